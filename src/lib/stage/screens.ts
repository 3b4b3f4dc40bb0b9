/** In CSS pixels. */
export interface Screen {
	width: number;
	height: number;
}

/** Common ones. */
export const SCREENS = [
	{ name: 'small phone', width: 360, height: 640 },
	{ name: 'phone', width: 390, height: 844 },
	{ name: 'phone lying', width: 844, height: 390 },
	{ name: 'tablet', width: 820, height: 1180 },
	{ name: 'laptop', width: 1440, height: 900 },
	{ name: 'full HD', width: 1920, height: 1080 },
] as const;

/** What a size is called: as the common screen of it, or by its numbers. */
export function screenName({ width, height }: Screen): string {
	const known = SCREENS.find((screen) => screen.width === width && screen.height === height);
	return known?.name ?? `${width} × ${height}`;
}
