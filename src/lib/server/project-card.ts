/** What the page of all projects shows of one. */
import { curveOf } from '$core/clip/compile';
import { sampleProfile } from '$core/clip/profile';
import { channelsOfClip, clipsInOrder, type Doc } from '$core/document/types';
import type { ProjectCard } from '$lib/projects/card';

const RIDGES = 3;
const POINTS = 72;

/** Profiles of the first clip's liveliest channels, each as values in 0…1. */
function ridges(doc: Doc): number[][] {
	const clip = clipsInOrder(doc)[0];
	if (!clip) return [];
	const buffer = new Float64Array(POINTS);
	return channelsOfClip(doc, clip.id)
		.filter((channel) => channel.keys.length > 1)
		.sort((a, b) => b.keys.length - a.keys.length || (a.id < b.id ? -1 : 1))
		.slice(0, RIDGES)
		.map((channel) => {
			const { low, high } = sampleProfile(curveOf(channel, clip), 0, clip.length, buffer);
			return Array.from(buffer, (v) => Math.round((1000 * (v - low)) / (high - low || 1)) / 1000);
		});
}

export function projectCard(item: {
	doc: Doc;
	revision: number;
	updatedAt: string;
	bytes: number;
}): ProjectCard {
	const { doc } = item;
	const clips = clipsInOrder(doc);
	return {
		id: doc.project.id,
		name: doc.project.name,
		space: doc.project.space,
		frameRate: doc.project.frameRate,
		clips: clips.length,
		firstClip: clips[0]?.id ?? null,
		parts: Object.keys(doc.parts).length,
		revision: item.revision,
		updatedAt: item.updatedAt,
		bytes: item.bytes,
		ridges: ridges(doc),
	};
}
