/** Rows of numbers: places and sizes have three, colours (r g b a) and unit quaternions (x y z w) four. */

export type Vec3 = [number, number, number];
export type Four = [number, number, number, number];
