/** What the page of all projects shows of one. */
import { clipRidges } from '$core/clip/profile';
import { clipsInOrder, type Doc } from '$core/document/types';
import type { ProjectCard } from '$lib/api/client';

const RIDGES = 3;
const POINTS = 72;

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
		ridges: clips[0] ? clipRidges(doc, clips[0], RIDGES, POINTS) : [],
	};
}
