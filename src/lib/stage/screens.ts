/** Common screens in CSS pixels. */
export const SCREENS = [
	{ name: 'small phone', width: 360, height: 640 },
	{ name: 'phone', width: 390, height: 844 },
	{ name: 'phone lying', width: 844, height: 390 },
	{ name: 'tablet', width: 820, height: 1180 },
	{ name: 'laptop', width: 1440, height: 900 },
	{ name: 'full HD', width: 1920, height: 1080 },
] as const;
