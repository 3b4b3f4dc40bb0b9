/** Ghosts and twins on the stage: made anew with each pose that is shown. */
import { Group } from 'three';
import type { PosedTree } from '$core/clip/compile';
import { disposeGhosts, type GhostPose } from './ghosts';
import type { PartNodes } from './part-nodes';
import type { StageColours } from './scene';

export class PaleCopies {
	private shown: Group | null = null;
	private retired: Group[] = [];

	constructor(private readonly parts: PartNodes) {}

	/** Shows parts (and their children) in some poses; without any, none. */
	show(
		parts: readonly string[],
		tree: PosedTree | null,
		poses: readonly GhostPose[],
		colours: StageColours,
	): void {
		this.clear();
		if (!tree || parts.length === 0) return;
		this.shown = new Group();
		for (const part of parts) this.shown.add(...this.parts.ghostsOf(part, tree, poses, colours).children);
		this.parts.root.add(this.shown);
	}

	/** They go after the next picture: it draws others with the programs of these, which take long to make. */
	clear(): void {
		if (!this.shown) return;
		this.shown.removeFromParent();
		this.retired.push(this.shown);
		this.shown = null;
	}

	/** A picture has been drawn. */
	drawn(): void {
		this.retired.splice(0).forEach(disposeGhosts);
	}

	destroy(): void {
		this.clear();
		this.drawn();
	}
}
