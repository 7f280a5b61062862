import type { LimitPicture } from '@crosspeen/contract';
import { useWatch, type Control } from 'react-hook-form';
import type { ReactNode } from 'react';
import { numberTyped } from '../../ui/formats.ts';
import type { Values } from './values.ts';

type Class = LimitPicture['classes'][number];

const WIDTH = 132;
const HEIGHT = 30;
/** Limits from a thousandth to one, each tenfold equally wide: people think of limits as factors. */
const x = (limit: number): number => ((Math.log10(Math.max(limit, 0.001)) + 3) / 3) * WIDTH;

/** How many vehicles have something over a limit: the count at the nearest stricter limit that was counted. */
const vehiclesOver = ({ atLimit }: Class, limit: number): number =>
  atLimit.findLast((entry) => entry.limit <= limit + 1e-12)?.vehicles ?? atLimit[0]?.vehicles ?? 0;

/**
 * What a limit means on this workshop's own vehicles: how many it calls in, and how that changes left and right of it.
 * Follows what is typed.
 */
export function LimitMeans({
  picture,
  consequence,
  control,
}: {
  picture: LimitPicture | undefined;
  consequence: Class['consequence'];
  control: Control<Values>;
}): ReactNode {
  const typed = useWatch({ control, name: `limits.${consequence}` }) ?? '';
  const own = picture?.classes.find((entry) => entry.consequence === consequence);
  if (!picture || !own || picture.vehicles === 0) return null;
  const limit = numberTyped(typed) / 100;
  if (typed.trim() === '' || !(limit > 0)) return <p className="mt-1 text-sm text-soft">Never calls anybody in.</p>;
  const y = (vehicles: number): number => HEIGHT - (vehicles / picture.vehicles) * (HEIGHT - 2);
  const path = own.atLimit
    .map(
      (entry, i) =>
        `${i === 0 ? 'M' : 'H'}${x(entry.limit).toFixed(1)}${i === 0 ? ` ${y(entry.vehicles).toFixed(1)}` : `V${y(entry.vehicles).toFixed(1)}`}`,
    )
    .join('');
  const over = vehiclesOver(own, limit);
  return (
    <div className="mt-1.5">
      <svg
        width={WIDTH}
        height={HEIGHT}
        viewBox={`0 0 ${WIDTH} ${HEIGHT}`}
        role="img"
        aria-label={`${over} of ${picture.vehicles} vehicles are over ${typed} %`}
        className="block border-b border-rule-strong"
      >
        <path d={`${path}V${HEIGHT}H0Z`} fill="var(--well)" />
        <path d={path} fill="none" stroke="var(--rule-strong)" strokeWidth={1.5} />
        <line x1={x(limit)} x2={x(limit)} y1={0} y2={HEIGHT} stroke="var(--ink)" strokeWidth={2.5} />
      </svg>
      <p className="text-sm">
        <strong className="figure text-base">
          {over} of {picture.vehicles}
        </strong>{' '}
        saved vehicles are over it now.
      </p>
    </div>
  );
}
