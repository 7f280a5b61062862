import type {
  CallOutcome,
  CampaignRow,
  LibraryPoint,
  LibraryPointRow,
  Notice,
  NoticeCampaignRow,
  NoticeKind,
  PointState,
} from '@crosspeen/contract';
import {
  isoFromDay,
  parseSpans,
  SHARE_BY_WORD,
  type StatementAsks,
  type ComponentClass,
  type DistanceUnit,
  type Group,
  type Nature,
  type ShareWord,
} from '@crosspeen/core';
import { isoText, percentText, spansText } from '../../ui/units.ts';

export const GROUP_WORDS: Readonly<Record<Group, string>> = {
  timing: 'Timing',
  seals: 'Seals',
  cooling: 'Cooling',
  other: 'Other',
};
export const STATE_WORDS: Readonly<Record<PointState, string>> = {
  draft: 'draft',
  review: 'up for review',
  published: 'published',
  superseded: 'superseded',
  retired: 'retired',
};
export const CLASS_WORDS: Readonly<Record<ComponentClass, string>> = {
  rubber: 'rubber',
  plastic: 'plastic',
  chain: 'chain',
  bearing: 'bearing',
  gasket: 'gasket',
  metal: 'metal, cracks or corrodes',
  electronics: 'electronics',
  sensor: 'sensor',
  early: 'fails early or never',
};

export const NOTICE_WORDS: Readonly<Record<NoticeKind, string>> = { bulletin: 'Bulletin', coverage: 'Coverage' };
export const OUTCOME_WORDS: Readonly<Record<CallOutcome, string>> = {
  coming: 'is coming',
  thinking: 'thinks it over',
  no_answer: 'no answer',
  declined: 'does not want it',
};
/** How long a coverage pays, in words. */
export function coversWords({ covers, endsOn }: Pick<Notice, 'covers' | 'endsOn'>, unit: DistanceUnit): string {
  const parsed = covers === null ? null : parseSpans(covers);
  return [
    ...(parsed?.ok ? [spansText(parsed.value, unit)] : []),
    ...(endsOn === null ? [] : [`${isoText(endsOn)} at the latest`]),
  ].join(', ');
}

/** The word for a share, with its number: "many (50 %)". */
export const shareText = (share: number): string => {
  const word = (Object.keys(SHARE_BY_WORD) as ShareWord[]).find(
    (candidate) => Math.abs(SHARE_BY_WORD[candidate] - share) < 1e-9,
  );
  return word === undefined ? percentText(share) : `${word} (${percentText(share)})`;
};

/** Whom a weak point comes to, as it is chosen from. */
export const NATURE_WORDS: Readonly<Record<Nature, string>> = {
  wear: 'Wears: all of them, sooner or later',
  defect: 'A fault that some were built with',
};

/** How the window of a weak point is told. */
export const WINDOW_HINTS: Readonly<Record<Nature, string>> = {
  wear: 'Of as many as you say, 1 in 10 by the first figure and 9 in 10 by the second; | whichever first, ; a cause of its own',
  defect:
    'Of those that have it, 1 in 10 by the first figure, 9 in 10 by the second; | whichever first, ; a cause of its own',
};

/** What an interval asks for. */
export const ASKS_WORDS: Readonly<Record<StatementAsks, string>> = { renew: 'renew it', look: 'look at it' };

/** What a share says, by the nature of the weak point. */
export const SHARE_LABELS: Readonly<Record<Nature, string>> = {
  wear: 'How many fail by then',
  defect: 'How many have it',
};

/** When it mostly fails, each cause of its own: "90,000–180,000 km; 7–14 years". */
export const windowText = ({ causes }: Pick<LibraryPointRow, 'causes'>, unit: DistanceUnit): string =>
  causes.map((cause) => spansText(cause, unit)).join('; ');

/** To which engines it applies, in plain words. */
export function appliesWords(
  rule: LibraryPoint['appliesTo'],
  variants: readonly { readonly key: string; readonly name: string }[],
): string {
  const named = (key: string): string => variants.find((variant) => variant.key === key)?.name ?? key;
  const parts = [
    ...(rule.variants ? [rule.variants.map(named).join(' or ')] : []),
    ...(rule.models ? [`in ${rule.models.join(' or ')}`] : []),
    ...(rule.markets ? [`sold in ${rule.markets.join(' or ')}`] : []),
    ...(rule.producedFromDay === undefined ? [] : [`made from ${isoText(isoFromDay(rule.producedFromDay))}`]),
    ...(rule.producedToDay === undefined ? [] : [`made until ${isoText(isoFromDay(rule.producedToDay))}`]),
    ...(rule.serialFrom === undefined ? [] : [`engine number from ${rule.serialFrom}`]),
    ...(rule.serialTo === undefined ? [] : [`engine number to ${rule.serialTo}`]),
    ...Object.entries(rule.features ?? {}).map(
      ([feature, has]) => `${has ? 'with' : 'without'} ${feature.replaceAll('-', ' ')}`,
    ),
  ];
  return parts.length === 0 ? 'every engine of this family' : parts.join(', ');
}

/** What was done about it on one vehicle, latest of each kind. */
export const doneWords = (
  row: Pick<CampaignRow, 'renewed' | 'revision' | 'lastLook' | 'lastResult' | 'planned' | 'lastCall'>,
): string[] => [
  ...(row.renewed ? [`renewed ${isoText(row.renewed)}${row.revision ? `, revision ${row.revision}` : ''}`] : []),
  ...(row.lastLook ? [`${row.lastResult ?? 'looked at'} ${isoText(row.lastLook)}`] : []),
  ...(row.planned ? [`on a visit ${isoText(row.planned)}`] : []),
  ...(row.lastCall
    ? [
        `called ${isoText(row.lastCall.day)}: ${OUTCOME_WORDS[row.lastCall.outcome]}${row.lastCall.note ? `, “${row.lastCall.note}”` : ''}`,
      ]
    : []),
];

/** Until when a coverage pays for one vehicle. */
export const coverWords = ({
  covered,
  coveredUntil,
}: Partial<Pick<NoticeCampaignRow, 'covered' | 'coveredUntil'>>): string =>
  covered === false
    ? `over${coveredUntil ? ` since ${isoText(coveredUntil)}` : ''}`
    : coveredUntil
      ? `until ${isoText(coveredUntil)}`
      : 'not known';
