/** What a click on a lane's name picks: the lane; with Shift all from the one in hand on, with Ctrl one more or less. */
import type { Session } from '$lib/session/session.svelte';
import type { Row } from './rows';

export function pickLane(
	{ selection }: Session,
	rows: readonly Row[],
	id: string,
	held: Pick<MouseEvent, 'shiftKey' | 'ctrlKey' | 'metaKey'>,
): void {
	if (held.ctrlKey || held.metaKey) {
		selection.toggleChannel(id);
		return;
	}
	const lanes = rows.flatMap((row) => (row.kind === 'lane' ? [row.id] : []));
	const from = selection.channelId === null ? -1 : lanes.indexOf(selection.channelId);
	if (!held.shiftKey || from < 0) {
		selection.pickChannel(id);
		return;
	}
	const to = lanes.indexOf(id);
	selection.pickChannels(lanes[from], lanes.slice(Math.min(from, to), Math.max(from, to) + 1));
}
