import { writeProjectFile } from '$core/formats/project/file';
import { attachment } from '$lib/server/attachment';
import { answer } from '$lib/server/problem';
import { getStore } from '$lib/server/store';

export function GET({ params }): Promise<Response> {
	return answer(() => {
		const { doc } = getStore().load(params.project);
		return attachment(writeProjectFile(doc), `${doc.project.name}.hillock.json`, 'application/json');
	});
}
