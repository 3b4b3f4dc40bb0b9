/** Draws bytes over bounds. */
import { LineChart } from 'echarts/charts';
import { GridComponent, LegendComponent, MarkPointComponent, TooltipComponent } from 'echarts/components';
import { init, use } from 'echarts/core';
import { CanvasRenderer } from 'echarts/renderers';
import { writeNumber } from '$lib/ui/number-text';
import type { Weight } from './weights.svelte';

use([CanvasRenderer, GridComponent, LegendComponent, LineChart, MarkPointComponent, TooltipComponent]);

/** One kind of bytes over the bounds, the present one ringed. */
function seriesOf(
	known: readonly Weight[],
	present: number,
	member: 'bytes' | 'gzip',
	own: string,
	ink: string,
) {
	const place = (weight: Weight) => [weight.percent, weight[member] / 1000];
	return {
		name: member === 'bytes' ? 'as it is' : 'with gzip',
		type: 'line' as const,
		data: known.map(place),
		symbolSize: 9,
		lineStyle: { color: own },
		itemStyle: { color: own },
		markPoint: {
			symbol: 'circle',
			symbolSize: 15,
			itemStyle: { color: 'transparent', borderColor: ink, borderWidth: 2 },
			label: { show: false },
			data: known.filter(({ percent }) => percent === present).map((weight) => ({ coord: place(weight) })),
		},
	};
}

/** Gives what takes the chart away. */
export function drawWeights(
	box: HTMLElement,
	known: readonly Weight[],
	present: number,
	onbound: (percent: number) => void,
): () => void {
	const style = getComputedStyle(box);
	const colour = (name: string) => style.getPropertyValue(name).trim();
	const text = { color: colour('--muted'), fontFamily: style.fontFamily, fontSize: 11 };
	const line = {
		axisLine: { lineStyle: { color: colour('--rule') } },
		splitLine: { lineStyle: { color: colour('--rule') } },
	};
	const chart = init(box);
	chart.setOption({
		animation: false,
		grid: { left: 56, right: 24, top: 26, bottom: 26 },
		legend: { top: 0, textStyle: text, itemHeight: 8 },
		tooltip: {
			trigger: 'axis',
			backgroundColor: colour('--sheet'),
			borderColor: colour('--rule'),
			textStyle: { color: colour('--ink'), fontFamily: style.fontFamily, fontSize: 12 },
			valueFormatter: (value: unknown) => `${writeNumber(Number(value), 2)} kB`,
		},
		xAxis: {
			...line,
			type: 'log' as const,
			min: Math.min(...known.map(({ percent }) => percent)),
			max: Math.max(...known.map(({ percent }) => percent), present * 1.0001),
			axisLabel: { ...text, formatter: (v: number) => `${writeNumber(v, 3)} %` },
		},
		yAxis: {
			...line,
			type: 'value' as const,
			min: 0,
			axisLabel: { ...text, formatter: (v: number) => `${v} kB` },
		},
		series: [
			seriesOf(known, present, 'bytes', colour('--moss'), colour('--ink')),
			seriesOf(known, present, 'gzip', colour('--lake'), colour('--ink')),
		],
	});
	chart.on('click', ({ data }) => {
		if (Array.isArray(data)) onbound(Number(data[0]));
	});
	const observer = new ResizeObserver(() => chart.resize());
	observer.observe(box);
	return () => {
		observer.disconnect();
		chart.dispose();
	};
}
