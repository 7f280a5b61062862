import { dayFromInstant, fromKm, isoFromDay, parseDay, parseFigure, toKm, type DistanceUnit } from '@crosspeen/core';
import { CalendarDays } from 'lucide-react';
import { Popover } from 'radix-ui';
import { type SetStateAction, type Dispatch, lazy, startTransition, Suspense, useState, type ReactNode } from 'react';
import { Field, INPUT } from './field.tsx';
import { dayText } from './units.ts';
import { wholeText } from './formats.ts';

const Calendar = lazy(() => import('./calendar.tsx'));

/** ISO date of what was typed, or null when it is empty or no date. */
export function isoTyped(text: string, today: number): string | null {
  const day = parseDay(text, today);
  return day === null ? null : isoFromDay(day);
}

/**
 * What was typed as it is sent: an ISO date, nothing where nothing was typed, and what is no date as it stands, so that
 * the server names the field.
 */
export const isoSent = (text: string, today: number): string | null =>
  text.trim() === '' ? null : (isoTyped(text, today) ?? text.trim());

/** Kilometres of what was typed, in the vehicle's unit unless another is typed with it; null when it is no figure. */
export function kmTyped(text: string, unit: DistanceUnit): number | null {
  const match = /^(.*?)\s*(km|mi|h)?$/i.exec(text.trim());
  const value = parseFigure(match?.[1] ?? '');
  return value === null ? null : toKm(value, (match?.[2]?.toLowerCase() as DistanceUnit | undefined) ?? unit);
}

/** How hard a vehicle is used, typed such as x1.3; null when it is no factor from x0.2 to x5. */
export function factorTyped(text: string): number | null {
  const factor = Number(text.trim().replace(/^x/i, '').replace(',', '.'));
  return factor >= 0.2 && factor <= 5 ? factor : null;
}

/** A distance as it is put into a field for correcting. */
export const distanceTyped = (km: number, unit: DistanceUnit): string => String(Math.round(fromKm(km, unit)));

function CalendarButton({
  open,
  setOpen,
  label,
  day,
  today,
  onChange,
}: {
  open: boolean;
  setOpen: Dispatch<SetStateAction<boolean>>;
  label: string;
  day: number | null;
  today: number;
  onChange: (text: string) => void;
}): ReactNode {
  return (
    <Popover.Root open={open} onOpenChange={(next) => startTransition(() => setOpen(next))}>
      <Popover.Trigger asChild>
        <button
          type="button"
          className="grid size-11 shrink-0 place-items-center rounded-md border border-rule-strong hover:bg-well"
          aria-label={`Pick ${label.toLowerCase()} from a calendar`}
        >
          <CalendarDays size={18} />
        </button>
      </Popover.Trigger>
      <Suspense fallback={null}>
        <Popover.Portal>
          <Popover.Content className="z-[60] rounded-md border border-rule-strong bg-sheet p-3 shadow-lg">
            <Calendar
              day={day ?? today}
              onPick={(date) => {
                onChange(isoFromDay(dayFromInstant(date)));
                setOpen(false);
              }}
            />
          </Popover.Content>
        </Popover.Portal>
      </Suspense>
    </Popover.Root>
  );
}

/** A date typed in shorthand (+14d, 14.5.2016, 05/2016) or picked; what was understood stands below. */
export function DayField({
  label,
  value,
  onChange,
  today,
  error,
  hint,
  className,
}: {
  label: string;
  value: string;
  onChange: (text: string) => void;
  today: number;
  error?: string | undefined;
  hint?: string;
  className?: string;
}): ReactNode {
  const [open, setOpen] = useState(false);
  const day = parseDay(value, today);
  const understood =
    value.trim() === ''
      ? (hint ?? 'For example 14.5.2026, 05/2026, today, +14d')
      : day === null
        ? 'No date yet: write 14.5.2026, 05/2026, today or +14d'
        : dayText(day);
  return (
    <Field label={label} hint={understood} error={error} {...(className ? { className } : {})}>
      {(control) => (
        <div className="flex gap-1">
          <input
            {...control}
            className={INPUT}
            value={value}
            onChange={(event) => onChange(event.target.value)}
            autoComplete="off"
          />
          <CalendarButton open={open} setOpen={setOpen} label={label} day={day} today={today} onChange={onChange} />
        </div>
      )}
    </Field>
  );
}

/** A reading typed as on the line (148k, 148,000, 92000 mi); what was understood stands below. */
export function DistanceField({
  label,
  value,
  onChange,
  unit,
  error,
  hint,
  className,
}: {
  label: string;
  value: string;
  onChange: (text: string) => void;
  unit: DistanceUnit;
  error?: string | undefined;
  hint?: string;
  className?: string;
}): ReactNode {
  const km = kmTyped(value, unit);
  const understood =
    value.trim() === ''
      ? (hint ?? `In ${unit}, for example 148k`)
      : km === null
        ? `No figure yet: write 148k or 148,000`
        : `${wholeText(Math.round(fromKm(km, unit)))} ${unit}`;
  return (
    <Field label={label} hint={understood} error={error} {...(className ? { className } : {})}>
      {(control) => (
        <input
          {...control}
          inputMode="decimal"
          autoComplete="off"
          className={`${INPUT} figure text-lg`}
          value={value}
          onChange={(event) => onChange(event.target.value)}
        />
      )}
    </Field>
  );
}
