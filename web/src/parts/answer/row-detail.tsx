import { ShieldAlert } from 'lucide-react';
import type { AnswerRow, Settings } from '@crosspeen/contract';
import type { Answer } from '../../api/answer.ts';
import { minutesText, labourCost, type DistanceUnit } from '@crosspeen/core';
import { type SetStateAction, type Dispatch, lazy, Suspense, useState, type ReactNode } from 'react';
import { Link } from 'react-router';
import { Button } from '../../ui/button.tsx';
import { Waiting } from '../../ui/notice.tsx';
import { countedFromText, sentence } from './overdue.ts';
import { restsOn } from './rests-on.ts';
import { Schools } from './schools.tsx';
import { LookTold, ToldMore, WorkTold } from './told-more.tsx';
import type { WhySource } from './why.tsx';
import { AuthorityShape, AUTHORITY_WORDS, STRENGTH_WORDS } from '../../editors/strip/view/marks.tsx';
import { dayText, distanceText, moneyText, percentText, spansText } from '../../ui/units.ts';
import { lengthText } from '../by-when.ts';

/** Fetched when it is asked for, as what it shows is. */
const Why = lazy(() => import('./why.tsx'));
const LooksAtView = lazy(() => import('../looks/looks-at.tsx'));

const CAUTIONS: Readonly<Record<AnswerRow['group'], string>> = {
  timing:
    'Battery off, engine cold; belts, chains and tensioners are under tension and can spring back. Turn the engine through twice by hand after the work.',
  seals: 'Hot exhaust and hot oil; support the vehicle before going underneath.',
  cooling:
    'Open the cooling system only when cold: hot coolant under pressure burns, and it is poisonous. Bleed it and check the level cold afterwards.',
  other: 'Keep clear of rotating fans and belts; fuel lines are under pressure.',
};

const ASIDE: Readonly<
  Record<NonNullable<AnswerRow['authorities'][number]['setAside']>['because'], (by: string | null) => string>
> = {
  other_region: (by) => `told for ${by ?? 'another region'}`,
  later_edition: (by) => `a later edition speaks, ${by ?? 'undated'}`,
  regional_edition: (by) => `the regional edition speaks, ${by ?? ''}`,
};

/** Why this verdict, and what would change it. */
function ReasonPart({
  row,
  answer,
  unit,
  asked,
  setAsked,
}: {
  row: AnswerRow;
  answer: Answer;
  unit: DistanceUnit;
  asked: boolean;
  setAsked: Dispatch<SetStateAction<boolean>>;
}): ReactNode {
  return (
    <section>
      <h4 className="mb-1 font-narrow text-xl font-semibold">What it rests on</h4>
      <ul className="list-disc space-y-1 pl-5">
        {restsOn(row, answer, unit).map((line) => (
          <li key={line}>{line}</li>
        ))}
      </ul>
      <p className="mt-2">
        <strong>What would change it:</strong> {row.wouldChange}
      </p>
      <Button className="mt-2" aria-expanded={asked} onClick={() => setAsked(!asked)}>
        {asked ? 'Hide' : 'Why this chance?'}
      </Button>
    </section>
  );
}

/** Notices in force, and what each authority says. */
function WhoSays({ row, answer, unit }: { row: AnswerRow; answer: Answer; unit: DistanceUnit }): ReactNode {
  return (
    <section className="lg:col-span-2">
      <h4 className="mb-1 font-narrow text-xl font-semibold">What the sources say</h4>
      {row.notices.length > 0 && <NoticesInForce row={row} />}
      <ul className="gap-x-8 space-y-2 lg:columns-2">
        {row.authorities.map((mark) => (
          <Authority key={`${mark.authority}-${mark.words}`} mark={mark} answer={answer} unit={unit} row={row} />
        ))}
      </ul>
    </section>
  );
}

function NoticesInForce({ row }: { row: AnswerRow }): ReactNode {
  return (
    <ul className="mb-2 space-y-1">
      {row.notices.map((notice) => (
        <li key={notice.id}>
          <Link to={`/library/notices/${notice.id}`} className="hover:underline">
            {notice.covered === null ? (
              <>
                <strong>Bulletin {notice.number}:</strong> {notice.title}
              </>
            ) : (
              <>
                <strong>
                  {notice.covered
                    ? `${notice.pays === null || notice.pays === 1 ? 'Paid for' : `${percentText(notice.pays)} paid`}${notice.coveredUntil === null ? '' : ` until ${dayText(notice.coveredUntil)}`}`
                    : `No longer paid for${notice.coveredUntil === null ? '' : `, since ${dayText(notice.coveredUntil)}`}`}
                  :
                </strong>{' '}
                coverage {notice.number}, {notice.title.charAt(0).toLowerCase()}
                {notice.title.slice(1)}
              </>
            )}
            <span className="text-soft"> {notice.authority}</span>
          </Link>
        </li>
      ))}
    </ul>
  );
}

function Authority({
  mark,
  answer,
  unit,
  row,
}: {
  mark: AnswerRow['authorities'][number];
  answer: Answer;
  unit: DistanceUnit;
  row: AnswerRow;
}): ReactNode {
  return (
    <li className="break-inside-avoid">
      <p>
        <AuthorityShape kind={mark.kind} /> <strong>{mark.authority}</strong>{' '}
        <span className="text-soft">
          {[
            mark.edition,
            mark.region,
            AUTHORITY_WORDS[mark.kind],
            mark.strength && STRENGTH_WORDS[mark.strength],
            mark.always && 'no exception',
          ]
            .filter(Boolean)
            .join(', ')}
        </span>
      </p>
      {mark.setAside && (
        <p className="text-sm font-semibold">Set aside here: {ASIDE[mark.setAside.because](mark.setAside.by)}.</p>
      )}
      {mark.doubted && <p className="text-sm font-semibold">Published, but specialists do not follow it.</p>}
      <p>
        “{mark.words}”
        {mark.due && (
          <span className="text-soft">
            {' '}
            {sentence(
              mark.due.day < answer.today
                ? `${countedFromText(row, mark.asks)}${lengthText(answer.today - mark.due.day)} overdue`
                : `${countedFromText(row, mark.asks)}due ${dayText(mark.due.day)} or at ${distanceText(mark.due.km, unit, 100)}`,
            )}
          </span>
        )}
      </p>
    </li>
  );
}

/** What the chance rests on. */
function RestsOnPart({
  row,
  unit,
  answer,
  why,
  looks,
  setLooks,
}: {
  row: AnswerRow;
  unit: DistanceUnit;
  answer: Answer;
  why: WhySource;
  looks: boolean;
  setLooks: Dispatch<SetStateAction<boolean>>;
}): ReactNode {
  return (
    <section>
      <h4 className="mb-1 font-narrow text-xl font-semibold">Look</h4>
      {row.look ? (
        <p>
          {row.look.how} {row.look.minutes} min; finds {Math.round(row.look.detection * 100)} % of cases; it shows for
          about {spansText(row.look.warning, unit)} before it fails.
        </p>
      ) : (
        <p>There is nothing to see beforehand.</p>
      )}
      {row.look && <LookTold look={row.look} layout={answer.layout} />}
      {row.look && why.kind === 'vehicle' && (
        <Button className="mt-1" aria-expanded={looks} onClick={() => setLooks(!looks)}>
          {looks ? 'Hide the looks' : 'Looks so far'}
        </Button>
      )}
      {row.look && row.look.cautions.length > 0 && (
        <ul aria-label="Cautions for the look" className="my-1 space-y-1">
          {row.look.cautions.map((words) => (
            <li key={words} className="flex gap-2">
              <ShieldAlert size={18} aria-hidden className="mt-1 shrink-0" />
              {words}
            </li>
          ))}
        </ul>
      )}
    </section>
  );
}

/** What the work takes. */
function WorkPart({ row, settings }: { row: AnswerRow; settings: Settings }): ReactNode {
  return (
    <section>
      <h4 className="mb-1 font-narrow text-xl font-semibold">Renew</h4>
      <p>
        {minutesText(row.renewMinutes)} for this job alone,{' '}
        {moneyText(labourCost(row.renewMinutes, settings.labourRateMinor), settings)} labour
        {row.partPrice === null ? '' : `, original part ${moneyText(row.partPrice, settings)}`}, before tax (made-up
        demo times and prices).
      </p>
      {row.work && <WorkTold work={row.work} />}
      {row.retiredByRevision && <p>Part revision {row.retiredByRevision} ends this weak point.</p>}
      <p className="mt-2 text-sm">
        <strong>Caution:</strong> {row.work && row.work.cautions.length > 0 ? '' : `${CAUTIONS[row.group]} `}Follow the
        maker’s current procedure.
      </p>
    </section>
  );
}

/** Everything behind one row: why, what the authorities say, how to look, and what can be done about it. */
export default function RowDetail({
  row,
  answer,
  unit,
  settings,
  actions,
  why,
  onSchool,
}: {
  row: AnswerRow;
  answer: Answer;
  unit: DistanceUnit;
  settings: Settings;
  actions?: ReactNode;
  why: WhySource;
  onSchool?: (row: AnswerRow) => void;
}): ReactNode {
  const [asked, setAsked] = useState(false);
  const [looks, setLooks] = useState(false);
  return (
    <div className="grid gap-x-8 gap-y-4 rounded-b-md border-l-4 border-accent bg-paper px-4 py-3 lg:grid-cols-3">
      {actions && <div className="flex flex-wrap gap-2 lg:col-span-3">{actions}</div>}
      <Schools row={row} answer={answer} unit={unit} {...(onSchool ? { onSchool } : {})} />
      <ReasonPart row={row} answer={answer} unit={unit} asked={asked} setAsked={setAsked} />
      <WhoSays row={row} answer={answer} unit={unit} />
      <section>
        <h4 className="mb-1 font-narrow text-xl font-semibold">If it fails</h4>
        <p>{row.effect}</p>
        <p>
          <strong>Signs:</strong> {row.signs}
        </p>
        {row.watch && (
          <p>
            <strong>The driver:</strong> {row.watch.task}, every {spansText(row.watch.every, unit)}.
          </p>
        )}
        <ToldMore told={row} unit={unit} settings={settings} />
      </section>
      <RestsOnPart row={row} unit={unit} answer={answer} why={why} looks={looks} setLooks={setLooks} />
      <WorkPart row={row} settings={settings} />
      {looks && why.kind === 'vehicle' && (
        <section className="lg:col-span-3">
          <h4 className="mb-1 font-narrow text-xl font-semibold">Looks so far</h4>
          <Suspense fallback={<Waiting what="the looks" />}>
            <LooksAtView vehicleId={why.id} weakPointId={row.weakPointId} />
          </Suspense>
        </section>
      )}
      {asked && (
        <section className="lg:col-span-3">
          <h4 className="mb-1 font-narrow text-xl font-semibold">Why this chance</h4>
          <Suspense fallback={<Waiting what="the chance without each fact" />}>
            <Why row={row} answer={answer} unit={unit} source={why} />
          </Suspense>
        </section>
      )}
    </div>
  );
}
