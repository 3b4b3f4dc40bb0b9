/** Keys that come as text, from the system's clipboard: apart from copying, since checking them takes the whole schema. */
import { parseJson } from '../json';
import { channelId, type Channel, type Component, type Doc, type Property } from '../document/types';
import { validateEntity, validateRules } from '../document/validate';
import { COPIED_FORMAT, type CopiedChannel } from './clipboard';
import { HOLD_ENDS } from './keys';

/** Longest text that is looked at. */
const MOST_TEXT = 8 * 1024 * 1024;

/** Whether a channel that came as text is one. */
function isCopied(value: unknown): value is CopiedChannel & { partName: string } {
	const { part, property, component, keys, partName } = (value ?? {}) as Record<string, unknown>;
	const id = channelId('clip', String(part), property as Property, component as Component);
	const base = { type: 'channel', id, clip: 'clip', ends: HOLD_ENDS, accumulates: false };
	const channel = { ...base, part, property, component, keys };
	return (
		typeof partName === 'string' &&
		validateEntity(channel, '').length === 0 &&
		validateRules(channel as Channel, '').length === 0
	);
}

/**
 * Keys from a text, or null when it holds none. Parts of another project are found by their names; what came from one
 * part only goes to `onto` where nothing is called so.
 */
export function readCopied(doc: Doc, text: string, onto: string | null): CopiedChannel[] | null {
	if (text.length > MOST_TEXT || !text.includes(COPIED_FORMAT)) return null;
	const parsed = parseJson(text);
	const body = parsed.ok ? (parsed.value as { format?: unknown; channels?: unknown } | null) : null;
	if (body?.format !== COPIED_FORMAT || !Array.isArray(body.channels) || !body.channels.every(isCopied))
		return null;
	const single = new Set(body.channels.map(({ part }) => part)).size === 1;
	return body.channels.flatMap(({ part, partName, property, component, keys }) => {
		const named = Object.values(doc.parts).find(({ name }) => name === partName)?.id;
		const found = doc.parts[part] ? part : (named ?? (single ? onto : null));
		return found === null ? [] : [{ part: found, property, component, keys }];
	});
}
