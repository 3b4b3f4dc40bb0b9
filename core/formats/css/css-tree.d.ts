/** The one file of it that bundlers take whole. */
declare module 'css-tree/dist/csstree.esm' {
	export * from 'css-tree';
}
