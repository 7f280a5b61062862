import { FOUND_WORDS, type Settings, type Visit } from '@crosspeen/contract';
import type { Answer } from '../../../api/answer.ts';
import { dayFromIso, labourCost } from '@crosspeen/core';
import { Wrench } from 'lucide-react';
import { type SetStateAction, type Dispatch, type KeyboardEvent, type ReactNode } from 'react';
import { TemperLegend } from '../../../ui/chance.tsx';
import { VerdictMark } from '../../../ui/mark.tsx';
import { temperColour } from '../../../ui/temper.ts';
import { Toggles } from '../../../ui/toggles.tsx';
import { dayText, moneyText, percentText } from '../../../ui/units.ts';
import type { layUpkeep } from '../model/lanes.ts';
import {
  type LaneGroup,
  GROUP_WORDS,
  LANE,
  type Drawing,
  type Lane,
  type UpkeepMark,
  type NeglectMark,
} from '../model/lanes.ts';
import { type DayRange, type AxisTick, type SpanYears } from '../model/scale.ts';
import { AUTHORITY_SHAPES, AUTHORITY_WORDS } from './marks.tsx';
import { Post } from './post.tsx';

const SPAN_WORDS: Readonly<Record<`${SpanYears}`, string>> = { 2: '2 years', 4: '4 years', 8: '8 years' };
const AXIS = 52;
/** Room above the lanes for the heads of the posts. */
export const HEAD = 30;

/** A planned or past look on its lane. */
function LookShown({ look, middle }: { look: Lane['looks'][number]; middle: number }): ReactNode {
  return (
    <g>
      {look.result === 'failed' ? (
        <path d={`M${look.x - 6} ${middle - 6} l12 12 m0 -12 l-12 12`} stroke="var(--ink)" strokeWidth={3} />
      ) : (
        <rect
          x={look.x - 2}
          y={middle - 9}
          width={4}
          height={18}
          fill={look.result === 'worn' ? 'var(--ink)' : 'var(--sheet)'}
          stroke="var(--ink)"
          strokeWidth={1.5}
        />
      )}
      <title>
        {look.result === 'failed'
          ? `Failed on ${dayText(look.day)}`
          : `Looked at on ${dayText(look.day)}: ${FOUND_WORDS[look.result]}`}
      </title>
    </g>
  );
}

function LaneDrawing({ lane }: { lane: Lane }): ReactNode {
  const middle = lane.y + LANE.height / 2 + 4;
  return (
    <g>
      {lane.pieces.map((piece, i) => (
        <rect
          key={i}
          x={piece.x}
          y={middle - piece.height / 2}
          width={piece.width + 0.4}
          height={piece.height}
          fill={temperColour(piece.chance)}
          opacity={piece.past ? 0.75 : 1}
        >
          <title>{`${percentText(piece.chance)} within a service interval from here`}</title>
        </rect>
      ))}
      {lane.ticks.map((tick, i) => (
        <g
          key={i}
          transform={`translate(${tick.x} ${lane.y + 7}) scale(0.9)`}
          fill="var(--ink)"
          opacity={tick.beyond ? 0.45 : 1}
        >
          {AUTHORITY_SHAPES[tick.kind]}
          <title>{`${tick.authority} (${AUTHORITY_WORDS[tick.kind]}): ${tick.words}${tick.beyond === 'before' ? ' Its date lies further back.' : tick.beyond === 'after' ? ' Its date lies further ahead.' : ''}`}</title>
        </g>
      ))}
      {lane.looks.map((look) => (
        <LookShown key={look.day} look={look} middle={middle} />
      ))}
      {lane.notches.map((notch) => (
        <g key={notch.day} opacity={notch.before ? 0.5 : 1}>
          <path
            d={`M${notch.x - 7} ${middle - 12} h14 l-7 14 z`}
            fill={notch.believed ? 'var(--sheet)' : 'var(--ink)'}
            stroke="var(--ink)"
            strokeWidth={1.5}
          />
          <title>{`${notch.believed ? 'Believed renewed' : 'Renewed'} on ${dayText(notch.day)}`}</title>
        </g>
      ))}
    </g>
  );
}

/** When recurring tasks fall due, in one lane: a diamond each, with how many where several fall together. */
function UpkeepDrawing({ marks, neglects, y }: ReturnType<typeof layUpkeep> & { y: number }): ReactNode {
  const middle = y + LANE.height / 2;
  return (
    <g>
      {neglects.map(({ x, width, title }, i) => (
        <rect key={i} x={x} y={middle + 10} width={Math.max(2, width)} height={4} fill="var(--ink)" opacity={0.55}>
          <title>{`${title}: left undone too long`}</title>
        </rect>
      ))}
      {marks.map(({ x, day, titles, overdue }) => (
        <g key={`${day} ${overdue}`} transform={`translate(${x} ${middle})`}>
          <path
            d="M0 -10 L10 0 L0 10 L-10 0 Z"
            fill={overdue ? 'var(--ink)' : 'var(--sheet)'}
            stroke="var(--ink)"
            strokeWidth={1.5}
          />
          {titles.length > 1 && (
            <text
              className="figure"
              textAnchor="middle"
              y={4.5}
              fontSize={13}
              fill={overdue ? 'var(--sheet)' : 'var(--ink)'}
            >
              {titles.length}
            </text>
          )}
          <title>{`${overdue ? 'Overdue' : `Due ${dayText(day)}`}: ${titles.join(', ')}`}</title>
        </g>
      ))}
    </g>
  );
}

/** Title and the years that are shown. */
export function StripHead({
  years,
  setYears,
}: {
  years: SpanYears;
  setYears: Dispatch<SetStateAction<SpanYears>>;
}): ReactNode {
  return (
    <header className="flex flex-wrap items-center justify-between gap-x-4 border-b border-rule px-3">
      <p className="text-sm text-soft">
        Colour: the chance from there to the next service. Wider: more failures expected then.
      </p>
      <div className="flex flex-wrap items-center gap-1">
        <TemperLegend />
        <Toggles
          label="Years ahead"
          look="words"
          value={`${years}`}
          onChange={(span) => setYears(Number(span) as SpanYears)}
          options={SPAN_WORDS}
        />
      </div>
    </header>
  );
}

/** The lanes by name, beside the drawing. */
export function LaneList({
  onArrow,
  groups,
  onSelect,
  selected,
  answer,
  unit,
}: {
  onArrow: (event: KeyboardEvent<HTMLUListElement>) => void;
  groups: LaneGroup[];
  onSelect: (weakPointId: string) => void;
  selected: string | null;
  answer: Answer;
  unit: 'km' | 'mi' | 'h';
}): ReactNode {
  return (
    <ul className="w-36 shrink-0 border-r border-rule sm:w-60 lg:w-72" style={{ paddingTop: HEAD }} onKeyDown={onArrow}>
      {groups.map(({ group, lanes }) => (
        <LaneGroupItem key={group} group={group} lanes={lanes} onSelect={onSelect} selected={selected} />
      ))}
      {answer.upkeep.length > 0 && (
        <li style={{ height: LANE.height }}>
          <a href="#upkeep" className="flex h-full items-center gap-2 px-3 text-[0.95rem] hover:bg-well">
            <Wrench size={18} aria-hidden />
            Upkeep
          </a>
        </li>
      )}
      <li
        className="figure flex flex-col justify-center px-3 text-right text-sm leading-5 text-soft"
        style={{ height: AXIS }}
      >
        <span>{unit}</span>
        <span>year</span>
      </li>
    </ul>
  );
}

function LaneGroupItem({
  group,
  lanes,
  onSelect,
  selected,
}: {
  group: 'timing' | 'seals' | 'cooling' | 'other';
  lanes: readonly Lane[];
  onSelect: (weakPointId: string) => void;
  selected: string | null;
}): ReactNode {
  return (
    <li>
      <h3 className="flex items-end px-3 text-sm text-soft" style={{ height: LANE.groupHeight }}>
        {GROUP_WORDS[group]}
      </h3>
      <ul>
        {lanes.map(({ row }) => (
          <li key={row.weakPointId} style={{ height: LANE.height }}>
            <button
              type="button"
              data-lane
              onClick={() => onSelect(row.weakPointId)}
              aria-pressed={selected === row.weakPointId}
              title={row.title}
              className="flex h-full w-full items-center gap-2 px-3 text-left leading-tight hover:bg-well aria-pressed:bg-accent-wash"
            >
              <VerdictMark verdict={row.verdict} wordless />
              <span className="line-clamp-2 text-[0.95rem]">{row.title}</span>
            </button>
          </li>
        ))}
      </ul>
    </li>
  );
}

/** The ribbons with their axis. */
export function LanesDrawing({
  width,
  lanesHeight,
  nowX,
  groups,
  selected,
  upkeep,
  height,
  distances,
  calendar,
}: {
  width: number;
  lanesHeight: number;
  nowX: number;
  groups: LaneGroup[];
  selected: string | null;
  upkeep: { readonly marks: UpkeepMark[]; readonly neglects: NeglectMark[] };
  height: number;
  distances: AxisTick[];
  calendar: AxisTick[];
}): ReactNode {
  return (
    <svg width={width} height={lanesHeight + AXIS} role="presentation" className="block">
      <rect x={0} y={0} width={Math.max(0, nowX)} height={lanesHeight} fill="var(--well)" opacity={0.5} />
      {groups.map((group) => (
        <GroupDrawing key={group.group} group={group} width={width} selected={selected} />
      ))}
      <UpkeepDrawing {...upkeep} y={height} />
      <line x1={nowX} x2={nowX} y1={0} y2={lanesHeight + 6} stroke="var(--ink)" strokeWidth={2.5} />
      <AxisLabels width={width} lanesHeight={lanesHeight} distances={distances} calendar={calendar} />
    </svg>
  );
}

function GroupDrawing({
  group,
  width,
  selected,
}: {
  group: LaneGroup;
  width: number;
  selected: string | null;
}): ReactNode {
  return (
    <g>
      <line x1={0} x2={width} y1={group.y + LANE.groupHeight} y2={group.y + LANE.groupHeight} stroke="var(--rule)" />
      {group.lanes.map((lane) => (
        <g key={lane.row.weakPointId}>
          {selected === lane.row.weakPointId && (
            <rect x={0} y={lane.y} width={width} height={LANE.height} fill="var(--accent-wash)" />
          )}
          <line
            x1={0}
            x2={width}
            y1={lane.y + LANE.height}
            y2={lane.y + LANE.height}
            stroke="var(--rule)"
            strokeWidth={0.5}
          />
          <LaneDrawing lane={lane} />
        </g>
      ))}
    </g>
  );
}

/** Distances and dates below the lanes. */
function AxisLabels({
  width,
  lanesHeight,
  distances,
  calendar,
}: {
  width: number;
  lanesHeight: number;
  distances: AxisTick[];
  calendar: AxisTick[];
}): ReactNode {
  return (
    <g className="figure" fill="var(--ink)" fontSize={15}>
      <line x1={0} x2={width} y1={lanesHeight} y2={lanesHeight} stroke="var(--rule-strong)" strokeWidth={1.5} />
      {distances.map((tick) => (
        <g key={tick.label}>
          <line x1={tick.x} x2={tick.x} y1={lanesHeight} y2={lanesHeight + 6} stroke="var(--rule-strong)" />
          <text x={tick.x} y={lanesHeight + 22} textAnchor="middle">
            {tick.label}
          </text>
        </g>
      ))}
      {calendar.map((tick) => (
        <g key={tick.label}>
          <line x1={tick.x} x2={tick.x} y1={lanesHeight + 27} y2={lanesHeight + 32} stroke="var(--rule-strong)" />
          <text x={tick.x} y={lanesHeight + 46} textAnchor="middle" fill="var(--ink-soft)">
            {tick.label}
          </text>
        </g>
      ))}
    </g>
  );
}

/** The visits as posts through all lanes. */
export function Posts({
  width,
  lanesHeight,
  standing,
  answer,
  drawing,
  unit,
  range,
  settings,
  laneOf,
  onMoveVisit,
}: {
  width: number;
  lanesHeight: number;
  standing: readonly Visit[];
  answer: Answer;
  drawing: Drawing;
  unit: 'km' | 'mi' | 'h';
  range: DayRange;
  settings: Settings;
  laneOf: Map<string, Lane>;
  onMoveVisit: ((visit: Visit, day: number) => void) | undefined;
}): ReactNode {
  return (
    <div className="absolute left-0" style={{ top: HEAD, width, height: lanesHeight }}>
      {standing.map((visit) => (
        <Post
          key={visit.id}
          visit={visit}
          day={dayFromIso(visit.day)!}
          usage={answer.usage}
          forecast={drawing.forecast}
          unit={unit}
          range={range}
          width={width}
          height={lanesHeight}
          money={(minutes) => moneyText(labourCost(minutes, settings.labourRateMinor), settings)}
          beads={visit.jobs.flatMap((job) => {
            const lane = laneOf.get(job.weakPointId);
            return lane
              ? [
                  {
                    weakPointId: job.weakPointId,
                    y: lane.y + LANE.height / 2 + 4,
                    renew: job.action === 'renew',
                    title: `${job.action === 'renew' ? 'Renew' : 'Look'}: ${job.title}`,
                  },
                ]
              : [];
          })}
          {...(onMoveVisit ? { onMove: (day: number) => onMoveVisit(visit, day) } : {})}
        />
      ))}
    </div>
  );
}
