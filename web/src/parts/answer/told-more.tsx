import type { AnswerRow, LibraryPoint, Settings } from '@crosspeen/contract';
import {
  minutesText,
  DUTY_QUESTIONS,
  type EngineLayout,
  labourCost,
  type DistanceUnit,
  type LookMethod,
  type LookPlace,
} from '@crosspeen/core';
import { ShieldAlert } from 'lucide-react';
import type { ReactNode } from 'react';
import { EngineMapView } from '../engine-map/engine-map.tsx';
import { oneDigitText } from '../../ui/formats.ts';
import { moneyText, percentText, spansText } from '../../ui/units.ts';

export const PLACE_WORDS: Readonly<Record<LookPlace, string>> = {
  inside: 'from the seat',
  top: 'from above',
  front: 'at the front',
  rear: 'at the rear',
  underneath: 'from below, on the lift',
  opened: 'with something removed',
  road: 'on the road',
};
export const METHOD_WORDS: Readonly<Record<LookMethod, string>> = {
  look: 'look',
  feel: 'feel',
  listen: 'listen',
  spin: 'spin by hand',
  squeeze: 'squeeze',
  measure: 'measure',
  codes: 'read codes and values',
};

/** What each result of a look looks like, and where and how it is made. */
export function LookTold({
  look,
  layout,
}: {
  look: NonNullable<AnswerRow['look']>;
  layout: EngineLayout | null;
}): ReactNode {
  const where = [look.method && METHOD_WORDS[look.method], look.place && PLACE_WORDS[look.place]].filter(Boolean);
  const results = [
    ['Good', look.good],
    ['Worn', look.worn],
    ['Failed', look.failed],
  ].filter(([, words]) => words);
  if (where.length === 0 && results.length === 0 && look.spot === undefined) return null;
  return (
    <>
      {where.length > 0 && <p className="text-soft">How: {where.join(', ')}.</p>}
      {results.length > 0 && (
        <ul className="my-1">
          {results.map(([result, words]) => (
            <li key={result}>
              <strong>{result}:</strong> {words}
            </li>
          ))}
        </ul>
      )}
      {look.measure && (
        <p>
          <strong>{look.measure.what}:</strong> worn {look.measure.worse === 'higher' ? 'from' : 'down to'}{' '}
          {oneDigitText(look.measure.limit)} {look.measure.unit} (made-up demo value).
        </p>
      )}
      {layout && look.spot && (
        <EngineMapView layout={layout} marks={[{ spot: look.spot, count: 1, done: 0 }]} isSmall />
      )}
    </>
  );
}

type Told = Pick<AnswerRow, 'damages' | 'symptoms' | 'failure' | 'hastens' | 'revisions'>;

/** What a failure harms and costs, how it shows, and what makes it wear faster; nothing where nobody told any of it. */
export function ToldMore({
  told: { damages, symptoms, failure, hastens, revisions },
  unit,
  settings,
}: {
  told: Told | LibraryPoint;
  unit: DistanceUnit;
  settings: Settings;
}): ReactNode {
  return (
    <>
      {symptoms.length > 0 && (
        <div>
          <strong>How it shows:</strong>
          <ul className="list-disc pl-5">
            {symptoms.map(({ symptom, words, codes, shows, tells }) => (
              <li key={symptom}>
                {words}
                {codes.length > 0 && ` (${codes.join(', ')})`}, in {percentText(shows)} of cases
                {tells && <span className="block text-sm text-soft">To tell it apart: {tells}</span>}
              </li>
            ))}
          </ul>
        </div>
      )}
      {damages.length > 0 && (
        <p>
          <strong>It may also harm:</strong>{' '}
          {damages
            .map(
              ({ harms, chance, within }) =>
                `${harms} (${percentText(chance)}${within.length > 0 ? `, within ${spansText(within, unit)}` : ''})`,
            )
            .join(', ')}
          .
        </p>
      )}
      {failure && (
        <p>
          <strong>Repair after a failure:</strong> parts {moneyText(failure.parts, settings)}, labour{' '}
          {minutesText(failure.minutes)}, {moneyText(labourCost(failure.minutes, settings.labourRateMinor), settings)}{' '}
          before tax (made-up demo prices).
        </p>
      )}
      {hastens.length > 0 && (
        <p>
          <strong>Wears faster with:</strong>{' '}
          {hastens
            .map(
              ({ use, feature, factor }) =>
                `${use ? DUTY_QUESTIONS[use].question.replace(/\?$/, '').toLowerCase() : feature!.replaceAll('-', ' ')} (x${factor})`,
            )
            .join(', ')}
          .
        </p>
      )}
      {revisions.length > 0 && (
        <p>
          <strong>Later parts last otherwise:</strong>{' '}
          {revisions
            .map(({ revision, ends, causes }) =>
              ends
                ? `revision ${revision} ends it`
                : `revision ${revision}, ${causes.map((cause) => spansText(cause, unit)).join('; ')}`,
            )
            .join('. ')}
          .
        </p>
      )}
    </>
  );
}

/** What the work takes: what goes in new with it, what is never fitted twice, tools; and first, what can hurt. */
export function WorkTold({ work }: { work: NonNullable<AnswerRow['work']> }): ReactNode {
  return (
    <>
      {work.cautions.length > 0 && (
        <ul aria-label="Cautions for the work" className="my-1 space-y-1">
          {work.cautions.map((words) => (
            <li key={words} className="flex gap-2">
              <ShieldAlert size={18} aria-hidden className="mt-1 shrink-0" />
              {words}
            </li>
          ))}
        </ul>
      )}
      {work.renewWith.length > 0 && (
        <p>
          <strong>Renew with it:</strong> {work.renewWith.join(', ')}.
        </p>
      )}
      {work.oneTime.length > 0 && (
        <p>
          <strong>Use once only:</strong> {work.oneTime.join(', ')}.
        </p>
      )}
      {work.fluids.length > 0 && (
        <p>
          <strong>Drain and refill:</strong> {work.fluids.join(', ')}.
        </p>
      )}
      {work.afterwards.length > 0 && (
        <p>
          <strong>Afterwards:</strong> {work.afterwards.join('; ')}.
        </p>
      )}
      {work.tools.length > 0 && (
        <div>
          <strong>Tools:</strong>
          <ul className="list-disc pl-5">
            {work.tools.map(({ name, without }) => (
              <li key={name}>
                {name}
                {without && <span className="block text-sm text-soft">Without it: {without}</span>}
              </li>
            ))}
          </ul>
        </div>
      )}
    </>
  );
}
