import { BarChart, LineChart } from 'echarts/charts';
import { GridComponent, MarkLineComponent, TooltipComponent } from 'echarts/components';
import { init, use as register, type ComposeOption, type EChartsType } from 'echarts/core';
import { SVGRenderer } from 'echarts/renderers';
import type { BarSeriesOption, LineSeriesOption } from 'echarts/charts';
import type { GridComponentOption, TooltipComponentOption } from 'echarts/components';
import { useEffect, useRef, type ReactNode } from 'react';

register([BarChart, LineChart, GridComponent, MarkLineComponent, TooltipComponent, SVGRenderer]);

export type ChartOption = ComposeOption<
  BarSeriesOption | LineSeriesOption | GridComponentOption | TooltipComponentOption
>;

/** The bench's own inks, as the page has them now. */
function inks(): Record<'ink' | 'soft' | 'rule' | 'accent' | 'sheet', string> {
  const style = getComputedStyle(document.documentElement);
  const of = (name: string): string => style.getPropertyValue(name).trim();
  return { ink: of('--ink'), soft: of('--ink-soft'), rule: of('--rule'), accent: of('--accent'), sheet: of('--sheet') };
}

/** A chart whose facts stand in words beside it; `label` says what it shows. Loaded only where one is drawn. */
export default function Chart({
  option,
  label,
  height = 240,
}: {
  option: (ink: ReturnType<typeof inks>) => ChartOption;
  label: string;
  height?: number;
}): ReactNode {
  const box = useRef<HTMLDivElement>(null);
  useEffect(() => {
    const element = box.current;
    if (!element) return undefined;
    const chart: EChartsType = init(element, null, { renderer: 'svg' });
    const draw = (): void =>
      chart.setOption(
        { animation: false, textStyle: { fontFamily: 'Barlow Condensed', fontSize: 14 }, ...option(inks()) },
        true,
      );
    draw();
    const resized = new ResizeObserver(() => chart.resize());
    resized.observe(element);
    // Light and dark share the drawing; only its inks change.
    const themed = new MutationObserver(draw);
    themed.observe(document.documentElement, { attributes: true, attributeFilter: ['data-theme'] });
    return () => {
      resized.disconnect();
      themed.disconnect();
      chart.dispose();
    };
  }, [option]);
  // What was drawn for a wider page must not hold it so wide until it is drawn anew.
  return (
    <div
      ref={box}
      role="img"
      aria-label={label}
      style={{ height }}
      className="w-full overflow-hidden [contain:inline-size]"
    />
  );
}
