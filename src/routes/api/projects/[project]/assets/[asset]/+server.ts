import { answer } from '$lib/server/problem';
import { getStore } from '$lib/server/store';

export function GET({ params }): Promise<Response> {
	return answer(() => {
		const { content, media_type } = getStore().asset(params.project, params.asset);
		return new Response(new Uint8Array(content), {
			headers: {
				'content-type': media_type,
				// Named by its content, so it never changes.
				'cache-control': 'private, max-age=31536000, immutable',
				// A drawing that is opened by itself runs nothing and loads nothing.
				'content-security-policy': "default-src 'none'; style-src 'unsafe-inline'; sandbox",
			},
		});
	});
}
