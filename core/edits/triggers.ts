/** Edits on triggers and layers. */
import { clipsNamed, layerNamed, partNamed, type Layer, type Trigger } from '../document/triggers';
import type { Doc } from '../document/types';

function without<T>(map: Readonly<Record<string, T>>, isGone: (entity: T) => boolean): Record<string, T> {
	return Object.fromEntries(Object.entries(map).filter(([, entity]) => !isGone(entity)));
}

export function putTrigger(doc: Doc, trigger: Trigger): Doc {
	return { ...doc, triggers: { ...doc.triggers, [trigger.id]: trigger } };
}

export function removeTrigger(doc: Doc, id: string): Doc {
	return { ...doc, triggers: without(doc.triggers, (own) => own.id === id) };
}

export function putLayer(doc: Doc, layer: Layer): Doc {
	return { ...doc, layers: { ...doc.layers, [layer.id]: layer } };
}

/** Removes a layer with the triggers that do something in it. */
export function removeLayer(doc: Doc, id: string): Doc {
	return {
		...doc,
		layers: without(doc.layers, (own) => own.id === id),
		triggers: without(doc.triggers, (own) => layerNamed(own) === id),
	};
}

/** The triggers that are left when a clip is gone. */
export function triggersWithoutClip(doc: Doc, clip: string): Doc['triggers'] {
	return without(doc.triggers, (own) => clipsNamed(own).includes(clip));
}

/** A document without what triggers and layers say of parts. */
export function withoutTriggersOf(doc: Doc, gone: ReadonlySet<string>): Doc {
	const isTold = (own: Trigger) => gone.has(partNamed(own) ?? '');
	if (!Object.values(doc.triggers).some(isTold) && !Object.values(doc.layers).some(({ parts }) => parts))
		return doc;
	const layers = Object.values(doc.layers).map((layer): [string, Layer] => [
		layer.id,
		layer.parts?.some((part) => gone.has(part))
			? { ...layer, parts: layer.parts.filter((part) => !gone.has(part)) }
			: layer,
	]);
	return { ...doc, triggers: without(doc.triggers, isTold), layers: Object.fromEntries(layers) };
}
