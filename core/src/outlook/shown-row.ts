import type { ItemForecast } from '../forecast/forecast.ts';
import { strictest } from '../schools/authorities.ts';
import { countedFrom } from '../schools/counted.ts';
import { isGrave } from '../decision/decide.ts';
import { reasonWords, wouldChangeWords } from '../decision/words.ts';
import { aheadOf, type Ahead } from './ahead.ts';
import type { Grid } from './grid.ts';
import { failedOnceRenewed } from './renewal.ts';
import { ribbon } from './ribbon.ts';
import { schoolViews } from './schools.ts';
import type { OutlookRow, OverdueFact, Ribbon } from './types.ts';
import type { Frame } from './row-ground.ts';
import type { RowWorkings } from './row.ts';

function overdueOf({ authorities, question, state }: RowWorkings): OverdueFact | null {
  const { today, kmAtDay } = question;
  // A regional edition says so of its own region alone, even where nobody knows whether this vehicle is from there.
  const mark = strictest(
    authorities().filter(
      ({ statement: { doubted, region } }) => doubted !== true && (region === null || region === question.market),
    ),
  );
  if (mark === null || mark.due.day >= today) return null;
  const { authority, asks } = mark.statement;
  return {
    authority,
    asks,
    since: mark.due,
    days: today - mark.due.day,
    km: kmAtDay(today) - mark.due.km,
    countedFrom: countedFrom(asks, state.installs[0]!.certainty, question.lastLookDay !== null),
  };
}

/** The one check that rules out a grave fault that has faded; null elsewhere. */
const ruledOutBy = ({ rule, weakPoint: { look }, facts }: RowWorkings): string | null =>
  rule === 'would_have_shown' && look !== null && isGrave(facts) ? `To rule it out: ${look.how}` : null;

/** The row as it is shown: the judgement in words, all schools side by side. */
export function shownRow(workings: RowWorkings, settle: string | null): OutlookRow {
  const { weakPoint, verdict, rule, chance, limit, appliesWeight, due, followed, facts, state, rank, dutyOn } =
    workings;
  return {
    weakPoint,
    verdict,
    rule,
    chance,
    limit,
    appliesWeight,
    settle,
    due,
    followed,
    followedBecause: workings.because,
    authorities: workings.authorities(),
    notices: workings.notices,
    rank,
    dutyOn,
    reason: reasonWords(rule, facts),
    wouldChange: ruledOutBy(workings) ?? wouldChangeWords(rule, facts, !workings.settled, settle),
    schools: schoolViews(workings.question),
    installs: state.installs,
    originalChance: state.originalChance,
    already: workings.already,
    ifFirst: workings.ifFirst(),
    unproved: workings.unproved,
    overdue: overdueOf(workings),
    rides: facts.ridesWith,
    looks: workings.current.map(({ day, result }) => ({ day, result })),
    shareLeft: facts.shareLeft,
  };
}

/** The chances ahead with what failed neighbours do to the part and with what is reported, as the row has them. */
function aheadWithHarm({ running, withHarm }: RowWorkings, grid: Grid): Ahead {
  const { chance, failed } = aheadOf(grid, running());
  return {
    chance: chance.map((own, i) => withHarm(own, grid.aheadDays[i]! + grid.serviceDays, grid.aheadDays[i])),
    failed: failed.map((own, i) => withHarm(own, grid.aheadDays[i]!)),
  };
}

/** The lane of a row, and what lies ahead of it with and without a renewal. */
export function drawnRow(
  workings: RowWorkings,
  { grid, clocks }: Frame,
): { readonly ribbon: Ribbon; readonly forecast: ItemForecast } {
  const { weakPoint, state, susceptible, appliesWeight, dutyOn, facts, looks } = workings;
  const ahead = aheadWithHarm(workings, grid);
  const days = Array.from({ length: ahead.failed.length }, (_, i) => grid.nowDay + grid.aheadDays[i]!);
  const renewed = failedOnceRenewed(
    weakPoint,
    { mixture: state.mixture, susceptible },
    { clocks, duty: dutyOn },
    { nowDay: grid.nowDay, days },
  ).map((by) => appliesWeight * by);
  const [none, all] = [days.map(() => 0), days.map(() => 1)];
  return {
    ribbon: ribbon(workings.thinned(), looks, grid, ahead),
    forecast: {
      weakPointId: weakPoint.id,
      // A revised part has no such weak point any more, whatever it was told of the older ones.
      ...(facts.hasFailed
        ? { chance: all, failed: all }
        : facts.revisedFitted
          ? { chance: none, failed: none }
          : ahead),
      renewed,
    },
  };
}
