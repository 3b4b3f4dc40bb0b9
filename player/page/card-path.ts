/** A card's outline from its right edge on, clockwise: where its line begins as it is drawn. */
export function cardPath(x: number, y: number, radius: number, [cx, cy]: readonly number[]): string {
	const r = Math.min(radius, x, y);
	const arc = (toX: number, toY: number) => `A${r} ${r} 0 0 1 ${cx + toX} ${cy + toY}`;
	const line = (toX: number, toY: number) => `L${cx + toX} ${cy + toY}`;
	return [
		`M${cx + x} ${cy + y - r}`,
		arc(x - r, y),
		line(r - x, y),
		arc(-x, y - r),
		line(-x, r - y),
		arc(r - x, -y),
		line(x - r, -y),
		arc(x, r - y),
		'Z',
	].join('');
}
