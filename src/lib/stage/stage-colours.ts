import type { StageColours } from './scene';

/** The colours of a stage, as the style sheet has them now. */
export function stageColours(box: HTMLElement): StageColours {
	const style = getComputedStyle(box);
	const read = (name: string) => style.getPropertyValue(name).trim();
	return {
		ink: read('--outline'),
		contour: read('--contour'),
		rust: read('--rust'),
		past: read('--heather'),
		coming: read('--lake'),
	};
}
