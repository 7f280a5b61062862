import { vehiclePath } from '../../ui/paths.ts';
import { dayFromIso, fromKm, type DistanceUnit } from '@crosspeen/core';
import { useQuery } from '@tanstack/react-query';
import { lazy, Suspense, type ReactNode } from 'react';
import { Link } from 'react-router';
import type { EngineSummary, SessionState, VehicleListRow } from '@crosspeen/contract';
import { byWhenText } from '../../parts/by-when.ts';
import { read } from '../../api/queries.ts';
import { Chance } from '../../ui/chance.tsx';
import { VerdictMark } from '../../ui/mark.tsx';
import { Waiting } from '../../ui/notice.tsx';

// Only a shop that begins has any.
const ForTheDesk = lazy(async () => ({ default: (await import('../../parts/shop/for-the-desk.tsx')).ForTheDesk }));
const NextSteps = lazy(() => import('../../parts/shop/next-steps.tsx'));

/** A reading as somebody would type it: thousands of km or miles, hours as they are. */
const typedReading = (km: number, unit: DistanceUnit): string =>
  unit === 'h'
    ? `${Math.round(fromKm(km, unit))} h`
    : `${Math.max(1, Math.round(fromKm(km, unit) / 1000))}k${unit === 'mi' ? ' mi' : ''}`;

/** Lines to try. */
function Examples({
  examples,
  onTry,
}: {
  examples: readonly { readonly engine: EngineSummary; readonly line: string }[];
  onTry: (line: string) => void;
}): ReactNode {
  return (
    <section>
      <h2 className="mb-1 text-2xl">Try an engine</h2>
      <p className="mb-3 text-soft">
        Code, reading and year in any order; km or mi; a plate or a name finds a saved vehicle; x1.3 says hard use.
        Nothing is saved.
      </p>
      <ul className="divide-y divide-rule rounded-md border border-rule bg-sheet">
        {examples.map(({ engine, line }) => (
          <li key={engine.familyId}>
            <button
              type="button"
              data-row
              onClick={() => onTry(line)}
              className="flex min-h-12 w-full items-baseline justify-between gap-3 px-4 py-2 text-left hover:bg-well"
            >
              <span className="figure text-xl font-semibold">{line}</span>
              <span className="text-soft">
                {engine.maker} {engine.name}
              </span>
            </button>
          </li>
        ))}
      </ul>
    </section>
  );
}

/** Saved vehicles that ask for work first. */
function MostPressing({
  pressing,
}: {
  pressing: { readonly data: { readonly rows: readonly VehicleListRow[] } | undefined };
}): ReactNode {
  return (
    <section aria-labelledby="most-pressing">
      <h2 id="most-pressing" className="mb-1 text-2xl">
        Most urgent vehicles
      </h2>
      <p className="mb-3 text-soft">Results for today, from the recorded data.</p>
      <ul className="divide-y divide-rule rounded-md border border-rule bg-sheet">
        {(pressing.data?.rows ?? []).map(
          (row) => row.pressing && <PressingVehicle key={row.id} row={{ ...row, pressing: row.pressing }} />,
        )}
        {pressing.data?.rows.length === 0 && (
          <li className="px-4 py-6 text-soft">No vehicle is saved yet. Look an engine up and save it as a vehicle.</li>
        )}
      </ul>
    </section>
  );
}

function PressingVehicle({
  row,
}: {
  row: VehicleListRow & { readonly pressing: NonNullable<VehicleListRow['pressing']> };
}): ReactNode {
  return (
    <li>
      <Link
        to={vehiclePath(row.id)}
        className="grid min-h-12 grid-cols-[auto_1fr_auto] items-center gap-x-4 px-4 py-2 hover:bg-well sm:grid-cols-[9rem_6rem_1fr_5rem]"
      >
        <span className="figure truncate text-xl font-semibold">{row.plate ?? row.name}</span>
        <VerdictMark verdict={row.pressing.verdict} />
        <span className="col-span-3 sm:col-span-1">
          {row.pressing.title}
          {row.pressing.dueDay ? (
            <span className="text-soft">
              ,{' '}
              {byWhenText(
                { verdict: row.pressing.verdict, day: dayFromIso(row.pressing.dueDay)!, km: row.pressing.dueKm },
                dayFromIso(row.pressing.asOf)!,
                row.odometerUnit,
              )}
            </span>
          ) : null}
          {row.pressing.ifFirst !== null && <span className="text-soft">; no proof of a renewal</span>}
        </span>
        {row.pressing.chance !== null && <Chance chance={row.pressing.ifFirst ?? row.pressing.chance} />}
      </Link>
    </li>
  );
}

/** What the line takes, and what is most pressing on file. */
export function LookupHome({
  onTry,
  unit,
  session,
}: {
  onTry: (line: string) => void;
  unit: DistanceUnit;
  session: SessionState;
}): ReactNode {
  const engines = useQuery(read.engines());
  const pressing = useQuery(read.vehicles({ q: '', order: 'pressing', page: 1, pageSize: 6 }));
  const onFile = useQuery(read.vehicles({ q: '', order: 'plate', page: 1, pageSize: 100 }));
  // One engine of each make, as it stands on file: what a line looks like, and what the library covers. Where nothing
  // is on file yet, a usual reading stands in.
  const known = (engines.data?.rows ?? []).map(({ engine, variants }) => ({
    engine,
    made: variants[0]?.producedFrom ?? null,
    vehicle: onFile.data?.rows.find(({ engineCode, km }) => engineCode === engine.code && km !== null),
  }));
  const makers = [...new Set(known.map(({ engine }) => engine.maker))];
  const examples = makers.slice(0, 6).map((maker) => {
    const own = known.filter(({ engine }) => engine.maker === maker);
    const { engine, made, vehicle } = own.find((entry) => entry.vehicle !== undefined) ?? own[0]!;
    return {
      engine,
      line: [
        engine.code,
        vehicle ? typedReading(vehicle.km!, vehicle.odometerUnit) : unit === 'km' ? '148k' : '92k',
        made === null ? '' : String(Number(made.slice(0, 4)) + 2),
      ]
        .filter(Boolean)
        .join(' '),
    };
  });
  const steps = (
    <Suspense fallback={<Waiting what="the next steps" />}>
      <NextSteps session={session} />
    </Suspense>
  );
  if (engines.data?.total === 0) return steps;
  return (
    <>
      {onFile.data?.total === 0 && steps}
      <Suspense>
        <ForTheDesk />
      </Suspense>
      <div className="grid gap-8 lg:grid-cols-[1fr_1.4fr]">
        <Examples examples={examples} onTry={onTry} />
        <MostPressing pressing={pressing} />
      </div>
    </>
  );
}
