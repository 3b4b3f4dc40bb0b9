/** Draws a path of a file over its project's: values above, the error below with its bound. */
import { LineChart, ScatterChart } from 'echarts/charts';
import {
	GridComponent,
	LegendComponent,
	MarkLineComponent,
	MarkPointComponent,
	TooltipComponent,
} from 'echarts/components';
import { init, use } from 'echarts/core';
import { CanvasRenderer } from 'echarts/renderers';
import { writeNumber } from '$lib/ui/number-text';
import { errorText } from '../ship-state.svelte';
import type { Played } from './played.svelte';

use([
	CanvasRenderer,
	GridComponent,
	LegendComponent,
	LineChart,
	MarkLineComponent,
	MarkPointComponent,
	ScatterChart,
	TooltipComponent,
]);

export type PathChartData = NonNullable<ReturnType<Played['chartOf']>> & {
	names: readonly string[];
	bound: number;
	/** With the space before it. */
	unit: string;
	/** Seconds. */
	worst: number;
};

const COLOURS = ['--rust', '--moss', '--lake', '--heather'];

/** How a chart is written and coloured. */
interface Look {
	font: string;
	colour: (name: string) => string;
}

const textOf = ({ font, colour }: Look) => ({ color: colour('--muted'), fontFamily: font, fontSize: 11 });
const nameOf = (names: readonly string[], k: number) => (names[k] === '' ? 'value' : names[k]);

/** A number that never moves tells nothing. */
function movingIn(rows: PathChartData['rows']): number[] {
	return rows[0].meant.flatMap((first, k) =>
		rows.some(({ meant, read }) => meant[k] !== first || read[k] !== rows[0].read[k]) ? [k] : [],
	);
}

/** A number of a path: broad and pale as it is meant, thin as it is read, its keys as dots. */
function valueSeries({ rows, keys, names }: PathChartData, k: number, own: string) {
	const nearKeys = new Set(keys);
	const line = { type: 'line' as const, showSymbol: false, itemStyle: { color: own } };
	return [
		{
			...line,
			name: `${nameOf(names, k)} in the project`,
			data: rows.map(({ seconds, meant }) => [seconds, meant[k]]),
			lineStyle: { width: 5, opacity: 0.25, color: own },
		},
		{
			...line,
			name: `${nameOf(names, k)} in the file`,
			data: rows.map(({ seconds, read }) => [seconds, read[k]]),
			lineStyle: { width: 1.5, color: own },
		},
		{
			name: `${nameOf(names, k)} in the file`,
			type: 'scatter' as const,
			data: rows
				.filter(({ seconds }) => nearKeys.has(seconds))
				.map(({ seconds, read }) => [seconds, read[k]]),
			symbolSize: 5,
			itemStyle: { color: own },
			tooltip: { show: false },
		},
	];
}

/** The error with its bound and its worst moment. */
function errorSeries({ rows, bound, unit, worst }: PathChartData, look: Look) {
	const [ink, muted] = ['--ink', '--muted'].map(look.colour);
	const at = rows.reduce((best, row) =>
		Math.abs(row.seconds - worst) < Math.abs(best.seconds - worst) ? row : best,
	);
	return {
		name: `error${unit}`,
		type: 'line' as const,
		xAxisIndex: 1,
		yAxisIndex: 1,
		data: rows.map(({ seconds, error }) => [seconds, error]),
		showSymbol: false,
		areaStyle: { opacity: 0.25, color: muted },
		lineStyle: { width: 1, color: muted },
		itemStyle: { color: muted },
		markLine: {
			silent: true,
			symbol: 'none',
			lineStyle: { color: ink, type: 'dashed' as const },
			label: {
				...textOf(look),
				formatter: `bound ${errorText(bound)}${unit}`,
				position: 'insideEndTop' as const,
			},
			data: [{ yAxis: bound }],
		},
		markPoint: {
			symbol: 'circle',
			symbolSize: 8,
			itemStyle: { color: ink },
			label: { ...textOf(look), show: true, formatter: 'worst', position: 'top' as const },
			data: [{ coord: [at.seconds, at.error] }],
		},
	};
}

/** Values above, the error below, over the same seconds. */
function axesOf({ rows, bound }: PathChartData, look: Look) {
	const rule = look.colour('--rule');
	const text = textOf(look);
	const axis = {
		type: 'value' as const,
		axisLine: { lineStyle: { color: rule } },
		splitLine: { lineStyle: { color: rule } },
	};
	return {
		grid: [
			{ left: 64, right: 16, top: 28, height: 120 },
			{ left: 64, right: 16, top: 176, height: 64 },
		],
		xAxis: [0, 1].map((gridIndex) => ({
			...axis,
			gridIndex,
			min: 0,
			max: rows.at(-1)!.seconds,
			axisLabel: {
				...text,
				hideOverlap: true,
				show: gridIndex === 1,
				formatter: (v: number) => `${writeNumber(v, 2)} s`,
			},
		})),
		yAxis: [
			{ ...axis, scale: true, splitNumber: 3, axisLabel: text },
			{
				...axis,
				gridIndex: 1,
				min: 0,
				max: bound * 1.15,
				splitNumber: 2,
				axisLabel: { ...text, hideOverlap: true, formatter: (v: number) => errorText(v) },
			},
		],
	};
}

/** Gives what takes the chart away. */
export function drawPathChart(box: HTMLElement, data: PathChartData): () => void {
	const style = getComputedStyle(box);
	const look: Look = {
		font: style.fontFamily,
		colour: (name) => style.getPropertyValue(name).trim(),
	};
	const moving = movingIn(data.rows);
	const chart = init(box);
	chart.setOption({
		animation: false,
		...axesOf(data, look),
		legend: {
			top: 0,
			textStyle: textOf(look),
			itemHeight: 8,
			data: moving.map((k) => `${nameOf(data.names, k)} in the file`),
		},
		tooltip: {
			trigger: 'axis',
			backgroundColor: look.colour('--sheet'),
			borderColor: look.colour('--rule'),
			textStyle: { color: look.colour('--ink'), fontFamily: look.font, fontSize: 12 },
			valueFormatter: (value: unknown) => (typeof value === 'number' ? errorText(value) : String(value)),
		},
		axisPointer: { link: [{ xAxisIndex: 'all' }] },
		series: [
			...moving.flatMap((k, i) => valueSeries(data, k, look.colour(COLOURS[i % COLOURS.length]))),
			errorSeries(data, look),
		],
	});
	const observer = new ResizeObserver(() => chart.resize());
	observer.observe(box);
	return () => {
		observer.disconnect();
		chart.dispose();
	};
}
