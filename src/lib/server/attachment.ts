/** A file to keep: its name in the form of RFC 6266, plain for old readers and in UTF-8 for the others. */
export function attachment(content: BodyInit, fileName: string, mediaType: string): Response {
	const plain = fileName.replace(/[^\w.-]+/g, '-');
	const full = encodeURIComponent(fileName).replace(/['()*]/g, (c) => `%${c.charCodeAt(0).toString(16)}`);
	return new Response(content, {
		headers: {
			'content-type': mediaType,
			'content-disposition': `attachment; filename="${plain}"; filename*=UTF-8''${full}`,
			'cache-control': 'no-store',
		},
	});
}
