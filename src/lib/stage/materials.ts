/** What materials of the stage let be seen. */
import type { Material, Vector3 } from 'three';

/** Makes a material let through what is behind it, or not. */
export function setClear(material: Material, clear: boolean): void {
	if (material.transparent === clear) return;
	material.transparent = clear;
	material.needsUpdate = true;
}

/** Whether something of a material is to be seen at a place of the world. */
export function isSeen({ opacity, clippingPlanes }: Material, place: Vector3): boolean {
	return opacity > 0.02 && (clippingPlanes ?? []).every((plane) => plane.distanceToPoint(place) >= 0);
}
