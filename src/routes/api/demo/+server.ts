import { json } from '@sveltejs/kit';
import { addDemo } from '$lib/server/demo';
import { answer } from '$lib/server/problem';
import { getStore } from '$lib/server/store';

/** Adds the two demo projects afresh. */
export function POST(): Promise<Response> {
	return answer(() => json({ ids: addDemo(getStore()) }, { status: 201 }));
}
