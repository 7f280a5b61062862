import { minutesText } from '@crosspeen/core';
import {
  queryText,
  addressOf,
  endpoints,
  type PurchaseView,
  type Settings,
  WALK_PLACE_WORDS,
} from '@crosspeen/contract';
import { useQuery } from '@tanstack/react-query';
import { Printer } from 'lucide-react';
import { type SetStateAction, type Dispatch, useState, type ReactNode } from 'react';
import { Link, useSearchParams } from 'react-router';
import { read } from '../../api/queries.ts';
import { Button } from '../../ui/button.tsx';
import { Held } from '../../parts/held.tsx';
import { Chance } from '../../ui/chance.tsx';
import { TextField } from '../../ui/field.tsx';
import { numberTyped } from '../../ui/formats.ts';
import { VerdictMark } from '../../ui/mark.tsx';
import { Empty, Waiting } from '../../ui/notice.tsx';
import { aboutMoneyText, distanceText, monthText, percentText } from '../../ui/units.ts';

const KIND_WORDS = { renew: 'Renew', look: 'Look', task: 'Upkeep' } as const;

/** Money to whole units: nobody knows two years to the cent. */
function Costs({ view, settings }: { view: PurchaseView; settings: Settings }): ReactNode {
  const { years, total, price } = view;
  const money = (minor: number): string => aboutMoneyText(minor, settings);
  const whole = total.visits + total.failures;
  return (
    <section aria-label="What the first two years cost" className="rounded-md border border-rule bg-sheet px-5 py-4">
      <h2 className="text-2xl">What the first two years cost</h2>
      <p className="figure my-1 text-4xl font-semibold">{money(whole)}</p>
      {total.high > total.low ? (
        <p className="text-lg">
          in nine cases of ten between <span className="figure font-semibold">{money(total.low)}</span> and{' '}
          <span className="figure font-semibold">{money(total.high)}</span>
        </p>
      ) : (
        <p className="text-lg">
          in nine cases of ten nothing breaks beside the planned work:{' '}
          <span className="figure font-semibold">{money(total.low)}</span>
        </p>
      )}
      <table className="mt-3 w-full text-right">
        <caption className="sr-only">By year</caption>
        <thead>
          <tr className="text-sm text-soft">
            <th scope="col" className="text-left font-semibold">
              Year
            </th>
            <th scope="col" className="font-semibold">
              Visits and parts
            </th>
            <th scope="col" className="font-semibold">
              Failures expected
            </th>
          </tr>
        </thead>
        <tbody>
          {years.map((year, i) => (
            <tr key={i} className="figure border-t border-rule">
              <th scope="row" className="py-1 text-left font-semibold">
                {i + 1}
              </th>
              <td>{money(year.visits)}</td>
              <td>{money(year.failures)}</td>
            </tr>
          ))}
        </tbody>
      </table>
      {price !== null && (
        <p className="mt-3 text-lg">
          Asked for it {money(price)}; with two years <strong className="figure">{money(price + whole)}</strong>.
        </p>
      )}
    </section>
  );
}

function Jobs({ view, settings }: { view: PurchaseView; settings: Settings }): ReactNode {
  if (view.jobs.length === 0) return <p>Nothing is worth a visit in that time.</p>;
  return (
    <ul className="divide-y divide-rule rounded-md border border-rule bg-sheet">
      {view.jobs.map((job, i) => (
        <li
          key={i}
          className="grid items-center gap-x-4 gap-y-0.5 px-4 py-2 sm:grid-cols-[6rem_minmax(0,1fr)_auto_7rem]"
        >
          <span className="figure text-lg font-semibold">{monthText(job.day)}</span>
          <span>
            <strong>{KIND_WORDS[job.kind]}:</strong> {job.title}{' '}
            {job.component && <span className="text-sm text-soft">{job.component}</span>}
            {job.ifFirst !== null && job.chance !== null && job.ifFirst > job.chance && (
              <span className="block text-sm text-soft">if it is the first one {percentText(job.ifFirst)}</span>
            )}
            {job.ifWorn && (
              <span className="block text-sm text-soft">
                if it is found worn ({percentText(job.ifWorn.chance)}): renewed, about{' '}
                {aboutMoneyText(job.ifWorn.money, settings)}
              </span>
            )}
            {!job.isPriceTold && (
              <span className="block text-sm text-soft">price of the part not told: usual for such parts</span>
            )}
          </span>
          <span className="flex items-center gap-3">
            {job.verdict && <VerdictMark verdict={job.verdict} />}
            {job.chance !== null && <Chance chance={job.chance} />}
          </span>
          <span className="figure text-right">
            {aboutMoneyText(job.money, settings)}
            <span className="block text-sm text-soft">{minutesText(job.minutes)} by itself</span>
          </span>
        </li>
      ))}
    </ul>
  );
}

/** Questions for the seller. */
function AskTheSeller({ view }: { view: PurchaseView }): ReactNode {
  return (
    <section aria-label="Ask the seller">
      <h2 className="mb-1 text-2xl">Ask the seller</h2>
      {view.questions.length === 0 ? (
        <p>No answer would change a result.</p>
      ) : (
        <ol className="grid gap-2">
          {view.questions.map(({ ask, changes, proof }) => (
            <li key={ask}>
              <span className="font-semibold">{ask}</span>
              {proof && ' Ask for the invoice.'}
              {changes.length > 0 && <span className="block text-sm text-soft">Changes: {changes.join('; ')}</span>}
            </li>
          ))}
        </ol>
      )}
    </section>
  );
}

/** What to look at before the purchase. */
function LookBefore({ minutes, view }: { minutes: number; view: PurchaseView }): ReactNode {
  return (
    <section aria-label="Look at it before">
      <h2 className="mb-1 text-2xl">
        Look at it before <span className="font-medium text-soft">{minutesText(minutes)}</span>
      </h2>
      <ol className="grid gap-3 md:grid-cols-2">
        {view.looks.map((look) => (
          <li key={look.title} className="rounded-md border border-rule bg-sheet px-4 py-2">
            <strong>{look.title}</strong>{' '}
            <span className="text-sm text-soft">
              {WALK_PLACE_WORDS[look.place]}, {minutesText(look.minutes)}
            </span>
            <p>{look.how}</p>
            {(look.good || look.worn) && (
              <p className="text-soft">
                {look.good && `Good: ${look.good}. `}
                {look.worn && `Worn: ${look.worn}.`}
              </p>
            )}
            {look.cautions.map((caution) => (
              <p key={caution}>▲ {caution}</p>
            ))}
          </li>
        ))}
      </ol>
    </section>
  );
}

function Found({
  view,
  settings,
  children,
}: {
  view: PurchaseView;
  settings: Settings;
  children: ReactNode;
}): ReactNode {
  const minutes = view.looks.reduce((sum, look) => sum + look.minutes, 0);
  return (
    <>
      <header className="mb-4 flex flex-wrap items-end justify-between gap-3">
        <div>
          <h1 className="text-3xl">
            Before a purchase: {view.engine.maker} {view.engine.code}
          </h1>
          <p className="text-lg text-soft">
            {view.engine.name}, {distanceText(view.now.km, view.odometerUnit, 100)}; history not known. Nothing is saved
            here.
          </p>
        </div>
        {children}
      </header>
      <Held holds={view.holds} />
      <div className="grid grid-cols-1 gap-6 lg:grid-cols-[22rem_minmax(0,1fr)]">
        <div className="grid content-start gap-6">
          <Costs view={view} settings={settings} />
          <AskTheSeller view={view} />
        </div>
        <div className="grid content-start gap-6">
          <section aria-label="Work due in two years">
            <h2 className="mb-1 text-2xl">
              Work due in two years{' '}
              <span className="font-medium text-soft">
                on {view.visits} {view.visits === 1 ? 'visit' : 'visits'}
              </span>
            </h2>
            <Jobs view={view} settings={settings} />
          </section>
          <LookBefore minutes={minutes} view={view} />
          <p className="text-soft">
            Estimates before tax, from what is known of this engine at this reading; prices and minutes of the demo are
            made up. A look is no guarantee.
          </p>
        </div>
      </div>
    </>
  );
}

/** The price asked, and printing the sheet. */
function PriceForm({
  take,
  settings,
  typed,
  setTyped,
  wrong,
  question,
  price,
}: {
  take: () => void;
  settings: Settings;
  typed: string;
  setTyped: Dispatch<SetStateAction<string>>;
  wrong: string | null;
  question: { line: string; variant: string | null; family: string | null; know: string | null };
  price: number | null;
}): ReactNode {
  return (
    <form
      className="flex flex-wrap items-end gap-3"
      onSubmit={(event) => {
        event.preventDefault();
        take();
      }}
    >
      <TextField
        label={`Asking price (${settings.currency})`}
        inputMode="decimal"
        value={typed}
        onChange={(event) => setTyped(event.target.value)}
        onBlur={take}
        error={wrong ?? undefined}
      />
      <a
        href={addressOf(endpoints.lookup.purchaseSheet, { query: { ...question, price } })}
        className="inline-flex min-h-11 items-center gap-2 rounded-md border border-rule-strong bg-sheet px-3.5 font-semibold hover:bg-well"
        target="_blank"
        rel="noreferrer"
      >
        <Printer aria-hidden size={20} /> Print the sheet
      </a>
      <Link
        to={`/${queryText(question)}`}
        className="inline-flex min-h-11 items-center rounded-md px-3 font-semibold hover:bg-well"
      >
        Back to the answer
      </Link>
    </form>
  );
}

/** Before a purchase: what a vehicle that nothing is known of will ask for, where to look, what to ask. */
export default function PurchasePage(): ReactNode {
  const [params, setParams] = useSearchParams();
  const settings = useQuery(read.settings()).data;
  const question = {
    line: params.get('line') ?? '',
    variant: params.get('variant'),
    family: params.get('family'),
    know: params.get('know'),
  };
  const said = params.get('price');
  const [typed, setTyped] = useState(said === null ? '' : String(Number(said) / 100));
  const [wrong, setWrong] = useState<string | null>(null);
  const price = said === null || !(Number(said) > 0) ? null : Math.round(Number(said));
  const purchase = useQuery(read.purchase(question, price));
  if (purchase.isPending || !settings) return <Waiting what="the two years ahead" />;
  if (purchase.data === undefined)
    return (
      <Empty
        page
        title="This cannot be shown"
        action={<Button onClick={() => void purchase.refetch()}>Try again</Button>}
      >
        {purchase.error?.message}
      </Empty>
    );
  const take = (): void => {
    const minor = typed.trim() === '' ? null : Math.round(numberTyped(typed) * 100);
    if (minor !== null && !(minor >= 1 && minor <= 1_000_000_000)) {
      setWrong('is not a price: write 4500, or leave it empty');
      return;
    }
    setWrong(null);
    setParams(
      (before) => {
        const after = new URLSearchParams(before);
        if (minor === null) after.delete('price');
        else after.set('price', String(minor));
        return after;
      },
      { replace: true },
    );
  };
  return (
    <Found view={purchase.data} settings={settings}>
      <PriceForm
        take={take}
        settings={settings}
        typed={typed}
        setTyped={setTyped}
        wrong={wrong}
        question={question}
        price={price}
      />
    </Found>
  );
}
