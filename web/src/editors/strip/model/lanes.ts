import { anyFailedByDay, GROUPS, type Condition, type Group } from '@crosspeen/core';
import type { Answer, AnswerRow, Visit, VehicleOutlook, WireUpkeep } from '@crosspeen/contract';
import { xOfDay, type DayRange } from './scale.ts';

export const LANE = { height: 44, groupHeight: 24, thinnest: 4, thickest: 26 } as const;

export const GROUP_WORDS: Readonly<Record<Group, string>> = {
  timing: 'Timing',
  seals: 'Seals',
  cooling: 'Cooling',
  other: 'Other',
};

/** What is drawn of an answer. */
export type Drawing = NonNullable<Answer['drawing']>;

export interface RibbonPiece {
  readonly x: number;
  readonly width: number;
  readonly height: number;
  readonly chance: number;
  readonly past: boolean;
}
export interface TickMark {
  readonly x: number;
  readonly kind: AnswerRow['authorities'][number]['kind'];
  readonly authority: string;
  readonly words: string;
  readonly beyond: 'before' | 'after' | null;
}
export interface NotchMark {
  readonly x: number;
  readonly believed: boolean;
  readonly day: number;
  /** It lies further back than the strip shows. */ readonly before: boolean;
}
export interface LookMark {
  readonly x: number;
  readonly result: Condition;
  readonly day: number;
}

export interface Lane {
  readonly row: AnswerRow;
  /** Top of the lane, pixels. */
  readonly y: number;
  readonly pieces: readonly RibbonPiece[];
  readonly ticks: readonly TickMark[];
  readonly notches: readonly NotchMark[];
  readonly looks: readonly LookMark[];
}

export interface LaneGroup {
  readonly group: Group;
  readonly y: number;
  readonly lanes: readonly Lane[];
}

/** The days that are shown, on so many pixels. */
interface LaneFrame {
  readonly range: DayRange;
  readonly width: number;
}

function piecesOf(
  ribbon: Drawing['ribbons'][number],
  edges: readonly number[],
  nowDay: number,
  { range, width }: LaneFrame,
): RibbonPiece[] {
  // Future bins are equally long, so that mass compares as it is.
  const highest = Math.max(...ribbon.mass, 1e-12);
  return ribbon.chance.flatMap((chance, bin) => {
    const from = Math.max(edges[bin]!, range.from);
    const to = Math.min(edges[bin + 1]!, range.to);
    if (chance === null || to <= from) return [];
    const past = edges[bin + 1]! <= nowDay + 0.5;
    const height = past
      ? LANE.thinnest
      : LANE.thinnest + (LANE.thickest - LANE.thinnest) * Math.max(0, ribbon.mass[bin]! / highest);
    const x = xOfDay(range, width, from);
    return [{ x, width: xOfDay(range, width, to) - x, height, chance, past }];
  });
}

function ticksOf(row: AnswerRow, range: DayRange, width: number): TickMark[] {
  return row.authorities.flatMap(({ due, kind, authority, words }) => {
    if (due === null) return [];
    const beyond = due.day < range.from ? ('before' as const) : due.day > range.to ? ('after' as const) : null;
    const x = Math.min(width - 6, Math.max(6, xOfDay(range, width, due.day)));
    return [{ x, kind, authority, words, beyond }];
  });
}

/**
 * Lays out the lanes: grouped in the fixed order of groups, worst first inside a group as they come. Pixels; y grows
 * downwards.
 */
export function layLanes(
  rows: readonly AnswerRow[],
  { edges, ribbons, notches }: Pick<Drawing, 'edges' | 'ribbons'> & Pick<VehicleOutlook, 'notches'>,
  nowDay: number,
  { range, width }: LaneFrame,
): { groups: LaneGroup[]; height: number } {
  let y = 0;
  const groups: LaneGroup[] = [];
  for (const group of GROUPS) {
    const members = rows.filter((row) => row.group === group);
    if (members.length === 0) continue;
    const top = y;
    y += LANE.groupHeight;
    const lanes = members.map((row): Lane => {
      const ribbon = ribbons.find(({ weakPointId }) => weakPointId === row.weakPointId);
      const lane: Lane = {
        row,
        y,
        pieces: ribbon === undefined ? [] : piecesOf(ribbon, edges, nowDay, { range, width }),
        ticks: ticksOf(row, range, width),
        notches: notches
          .filter(({ componentKey }) => componentKey === row.componentKey)
          .map(({ day, certainty }) => ({
            day,
            x: Math.max(8, xOfDay(range, width, day)),
            believed: certainty === 'believed',
            before: day < range.from,
          })),
        looks: row.looks
          .filter(({ day }) => day >= range.from)
          .map(({ day, result }) => ({ day, result, x: xOfDay(range, width, day) })),
      };
      y += LANE.height;
      return lane;
    });
    groups.push({ group, y: top, lanes });
  }
  return { groups, height: y };
}

/** Recurring tasks that fall due so near each other that they are drawn as one. */
export interface UpkeepMark {
  readonly x: number;
  readonly day: number;
  readonly titles: readonly string[];
  readonly overdue: boolean;
}
/** A stretch in which something was left undone for too long. */
export interface NeglectMark {
  readonly x: number;
  readonly width: number;
  readonly title: string;
}

/** Marks nearer than this stand as one, pixels. */
const UPKEEP_APART = 16;

/** When recurring tasks fall due, what is overdue standing at now, and where they were neglected; pixels. */
export function layUpkeep(
  upkeep: readonly WireUpkeep[],
  nowDay: number,
  { range, width }: LaneFrame,
): { readonly marks: UpkeepMark[]; readonly neglects: NeglectMark[] } {
  const marks: UpkeepMark[] = [];
  const due = upkeep.flatMap(({ due: when, title, standing }) =>
    when === null || when.day > range.to
      ? []
      : [{ day: Math.max(when.day, nowDay), title, overdue: standing === 'overdue' }],
  );
  for (const { day, title, overdue } of due.sort((a, b) => a.day - b.day)) {
    const x = xOfDay(range, width, day);
    const last = marks.at(-1);
    if (last !== undefined && x - last.x < UPKEEP_APART && last.overdue === overdue)
      marks[marks.length - 1] = { ...last, titles: [...last.titles, title] };
    else marks.push({ x, day, titles: [title], overdue });
  }
  const neglects = upkeep.flatMap(({ neglected, title }) =>
    neglected.flatMap(([from, to]) => {
      if (to <= range.from) return [];
      const x = xOfDay(range, width, Math.max(from, range.from));
      return [{ x, width: xOfDay(range, width, to) - x, title }];
    }),
  );
  return { marks, neglects };
}

export interface PostFigures {
  /** Chance that at least one of the visit's jobs is overtaken by its failure before the visit. */
  readonly chanceBefore: number;
  /** Labour of all that is on it, shared access counted once. */
  readonly minutes: number;
}

/** The figures of a visit if it stood on `day`. */
export const postFigures = (
  { jobs, minutes }: Pick<Visit, 'minutes'> & { readonly jobs: readonly Pick<Visit['jobs'][number], 'weakPointId'>[] },
  forecast: Drawing['forecast'],
  day: number,
): PostFigures => ({
  chanceBefore: anyFailedByDay(
    forecast,
    jobs.map(({ weakPointId }) => weakPointId),
    day,
  ),
  minutes,
});
