import type { BenchRow } from '@crosspeen/contract';
import type { ReactNode } from 'react';

const WIDTH = 220;
/** Ratios to the published life that the picture spans. */
const SPAN = { least: 0.4, most: 2.5 } as const;

/** Place of a ratio to the published life, pixels; equal factors are equally far apart. */
export const ratioX = (ratio: number): number =>
  (Math.log(Math.min(SPAN.most, Math.max(SPAN.least, ratio)) / SPAN.least) / Math.log(SPAN.most / SPAN.least)) * WIDTH;

/**
 * Published above, own below, each as its 90 % interval with the middle marked; the upright line is what is published.
 */
export function LifeInterval({
  row,
  label,
}: {
  row: Pick<BenchRow, 'publishedLife' | 'ownLife' | 'enough'>;
  label: string;
}): ReactNode {
  const bar = (life: BenchRow['ownLife'], y: number, own: boolean): ReactNode => (
    <g>
      <line
        x1={ratioX(life.low)}
        x2={ratioX(life.high)}
        y1={y}
        y2={y}
        stroke={own ? 'var(--ink)' : 'var(--rule-strong)'}
        strokeWidth={own ? 5 : 3}
        strokeOpacity={own && row.enough !== 'yes' ? 0.45 : 1}
      />
      <circle
        cx={ratioX(life.middle)}
        cy={y}
        r={own ? 5.5 : 3.5}
        fill={own ? 'var(--ink)' : 'var(--sheet)'}
        stroke={own ? 'var(--sheet)' : 'var(--rule-strong)'}
        strokeWidth={2}
      />
    </g>
  );
  return (
    <svg
      width={WIDTH}
      height={34}
      viewBox={`0 0 ${WIDTH} 34`}
      role="img"
      aria-label={label}
      className="block max-w-full"
    >
      <line x1={ratioX(1)} x2={ratioX(1)} y1={0} y2={34} stroke="var(--rule)" strokeWidth={1.5} />
      {bar(row.publishedLife, 9, false)}
      {bar(row.ownLife, 24, true)}
    </svg>
  );
}
