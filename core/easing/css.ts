/** Shapes as CSS easing functions (CSS Easing Level 2), where CSS can say them exactly. */
import type { Shape } from '../curve/types';

function number(value: number): string {
	return String(Math.round(value * 10_000) / 10_000);
}

export function cssEasing(shape: Shape): string | null {
	switch (shape.kind) {
		case 'linear':
			return 'linear';
		case 'hold':
			return 'step-end';
		case 'eased':
			return `cubic-bezier(${number(shape.start)}, 0, ${number(1 - shape.finish)}, 1)`;
		case 'fall':
			return 'cubic-bezier(0.3333, 0, 0.6667, 0.3333)';
		case 'rise':
			return 'cubic-bezier(0.3333, 0.6667, 0.6667, 1)';
		case 'bezier':
			return `cubic-bezier(${[shape.x1, shape.y1, shape.x2, shape.y2].map(number).join(', ')})`;
		case 'steps':
			return `steps(${shape.count}, ${shape.jump})`;
		case 'stops':
			return `linear(${shape.stops.map(({ x, y }) => `${number(y)} ${number(100 * x)}%`).join(', ')})`;
		default:
			return null;
	}
}
