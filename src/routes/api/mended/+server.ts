import { forgetMendedNote } from '$lib/server/db/mend';
import { answer } from '$lib/server/problem';
import { dataFolder } from '$lib/server/store';

/** Somebody has read how a damaged database came out. */
export function DELETE(): Promise<Response> {
	return answer(() => {
		forgetMendedNote(dataFolder());
		return new Response(null, { status: 204 });
	});
}
