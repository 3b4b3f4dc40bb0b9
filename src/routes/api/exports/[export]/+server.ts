import { attachment } from '$lib/server/attachment';
import { answer, ApiError } from '$lib/server/problem';
import { getStore } from '$lib/server/store';

export function GET({ params }): Promise<Response> {
	return answer(() => {
		const row = getStore().exports.find(params.export);
		if (!row) throw new ApiError('not-found', 'This export is no longer kept: export again.');
		return attachment(new Uint8Array(row.content), row.file_name, row.media_type);
	});
}
