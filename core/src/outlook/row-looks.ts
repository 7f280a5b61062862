import type { Inspection } from '../life/risk.ts';
import type { ClocksByKind } from '../usage/clock.ts';
import type { FindingFact, InstallFact, OutlookInput, WeakPointFact } from './types.ts';

/** Looks at the part that is in now, each as what it found; empty where no look is told. */
export const looksOf = (
  { look }: WeakPointFact,
  findings: readonly FindingFact[],
  clocks: ClocksByKind,
): Inspection[] => {
  if (look === null || findings.length === 0) return [];
  const warning = look.warning.flatMap((span) =>
    clocks[span.clock] ? [{ clock: clocks[span.clock]!, length: span.from }] : [],
  );
  return findings
    .filter(({ result }) => result !== 'failed')
    .map(({ day, result }) => ({
      day,
      worn: result === 'worn',
      detection: look.detection,
      falseAlarm: look.falseAlarm,
      warning,
    }));
};

/**
 * Days for which the weak point shows itself before it fails, from today's use; 0 if it cannot be
 * looked at.
 */
export function warningDays({ look }: WeakPointFact, clocks: ClocksByKind, today: number): number {
  if (look === null || look.detection < 0.5) return 0;
  return look.warning.reduce((least, span) => {
    const clock = clocks[span.clock];
    return clock ? Math.min(least, clock.dayOf(clock.at(today) + span.from) - today) : least;
  }, Infinity);
}

/** Findings about the part that is in now, oldest first. */
export function currentFindings(
  weakPoint: WeakPointFact,
  { findings, today }: OutlookInput,
  { install, fittedDay }: { readonly install: InstallFact; readonly fittedDay: number | null },
): FindingFact[] {
  return (
    findings
      .filter(({ weakPointId, day }) => weakPointId === weakPoint.id && day <= today && day >= (fittedDay ?? -Infinity))
      // On the very day of the renewal a worn finding or a failure is about the part that came out, a sound one about
      // the part that went in.
      .filter(
        ({ day, result }) =>
          install.certainty !== 'done' || day > install.day || (day === install.day && result === 'sound'),
      )
      .sort((a, b) => a.day - b.day)
  );
}

/** How likely the part that is in now is the cause of what is reported; one that went in since then is not. */
export function suspicionOf(
  { id }: WeakPointFact,
  { suspects, reports = [] }: OutlookInput,
  install: InstallFact,
): number {
  const reportedDay = Math.max(-Infinity, ...reports.map(({ day }) => day));
  const isRenewed = install.certainty === 'done' && install.day >= reportedDay;
  return isRenewed ? 0 : (suspects?.get(id) ?? 0);
}
