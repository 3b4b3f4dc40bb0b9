import { attachment } from '$lib/server/attachment';
import { answer } from '$lib/server/problem';
import { projectFile } from '$lib/server/project-file';
import { getStore } from '$lib/server/store';

export function GET({ params }): Promise<Response> {
	return answer(() => {
		const { name, content, mediaType } = projectFile(getStore(), params.project);
		return attachment(content, name, mediaType);
	});
}
