import type { PurchaseView, WalkStep, WalkView, WireTriage } from '@crosspeen/contract';
import { dayFromIso } from '@crosspeen/core';
import { sheetPages, sheetPlaced, type Placed } from '../testing/pdf-text.ts';
import { complaintSheetPdf } from './complaint-sheet.ts';
import { finished, heading, newSheet } from './page.ts';
import { purchaseSheetPdf } from './purchase-sheet.ts';
import { walkSheetPdf } from './walk-sheet.ts';

const FORMATS = {
  numberFormat: 'en-GB',
  dateFormat: 'en-GB',
  workshopName: 'Tarred Quay Garage',
  currency: 'GBP',
} as const;
const ENGINE = { maker: 'Vellmar', code: 'QV20T', name: '2.0 turbo petrol' };
const whole = async (sheet: Parameters<typeof sheetPages>[0]): Promise<string> => (await sheetPages(sheet)).join(' ');

const MARGIN = 40;
const [WIDE, HIGH] = [595.28, 841.89];
/** Half a point: what rounding moves. */
const NEAR = 0.5;

/** What runs over a margin of its page, or over another text. */
async function faultsOf(sheet: Parameters<typeof sheetPlaced>[0]): Promise<string[]> {
  const pages = await sheetPlaced(sheet);
  expect(pages.flat().length).toBeGreaterThan(3);
  return pages.flatMap((page, number) => {
    const at = ({ text, x, y }: Placed): string => `page ${number + 1}, ${Math.round(x)}/${Math.round(y)}: ${text}`;
    const outside = page.filter(
      ({ x, y, width, height }) =>
        x < MARGIN - NEAR || x + width > WIDE - MARGIN + NEAR || y < MARGIN - height || y > HIGH - MARGIN + NEAR,
    );
    const over = page.flatMap((one, i) =>
      page
        .slice(i + 1)
        .filter(
          (other) =>
            Math.min(one.x + one.width, other.x + other.width) - Math.max(one.x, other.x) > NEAR &&
            // Letters stand on a line and are some two thirds of their size high.
            Math.min(one.y + 0.66 * one.height, other.y + 0.66 * other.height) - Math.max(one.y, other.y) > NEAR,
        )
        .map((other) => `${at(one)} lies over ${other.text}`),
    );
    return [...outside.map((one) => `${at(one)} runs over the margin`), ...over];
  });
}
const long = (words: string, times = 14): string => Array.from({ length: times }, () => words).join(' ');

describe('a complaint', () => {
  const report = {
    id: '',
    symptomId: null,
    codes: [],
    listed: true,
    by: 'Tove',
    day: '2026-11-24',
    stop: null,
    drive: null,
    forbids: [],
  };
  const check = {
    kind: 'check',
    more: null,
    weakPointId: null,
    cautions: [],
    off: [],
    needs: { engine: 'off' },
    firstFor: [],
  } as const;
  const asked = {
    explanations: [
      { weakPointId: 'linkage', title: 'Linkage rattles', risk: 0.05, forbids: [] },
      { weakPointId: 'chain', title: 'Chain stretched', risk: 0.05, forbids: [] },
    ],
    unlistedOdds: 0.03,
    checks: [
      { ...check, about: 'symptom:rattle', words: 'Rattle', minutes: 1, shows: [0.8, 0.7, 0.1] },
      { ...check, about: 'check:hand', words: 'Hand on the rod', minutes: 3.6, shows: [0.92, 0.04, 0.05] },
      {
        ...check,
        about: 'look:chain',
        words: 'Look at the chain',
        minutes: 40,
        shows: [0.02, 0.9, 0.02],
        cautions: ['fan may start'],
      },
    ],
    operations: {},
    reports: [
      { ...report, symptomId: 'rattle', words: 'Rattle', condition: 'warm', goodDay: '2026-10-01' },
      { ...report, words: 'Smell of fuel', condition: null, goodDay: null, stop: 'do not drive it' },
    ],
    answers: [],
  } as unknown as WireTriage;
  const answered = (said: boolean): WireTriage =>
    ({ ...asked, answers: [{ about: 'check:hand', words: 'Hand on the rod', said, by: 'Ruta' }] }) as WireTriage;
  const sheet = (of: WireTriage) =>
    whole(complaintSheetPdf({ name: 'PM 482 KX', engine: 'Vellmar QV20T' }, of, FORMATS));

  test('says what is reported, what must not be driven, what explains it and what to check next', async () => {
    const text = await sheet(asked);
    expect(text).toContain('Complaint PM 482 KX');
    expect(text).toContain('Vellmar QV20T · Tarred Quay Garage');
    expect(text).toContain('Smell of fuel: do not drive it');
    expect(text).not.toContain('Rattle: ');
    expect(text).toContain('Rattle, warm · 24 Nov 2026, Tove · good on 1 Oct 2026');
    expect(text).toMatch(/Smell of fuel · 24 Nov 2026, Tove(?! ·)/);
    expect(text).not.toContain('What was checked');
    expect(text).toMatch(
      /What explains it on this vehicle \d\d% Linkage rattles \d\d% Chain stretched [\d.]+% Something/,
    );
    expect(text).toMatch(
      /What to check next Hand on the rod \(4 min\) Yes: Linkage rattles \d\d%\. No: Chain stretched/,
    );
    expect(text).toMatch(
      /Look at the chain \(40 min\) Yes: Chain stretched \d\d%\. No: Linkage .* Take care: fan may start/,
    );
    expect(text).toMatch(/A search is no repair: the maker’s current procedure/);
    expect(text).toMatch(/1 of 1$/);
  });
  test('says what was checked, by whom; once it is known there is nothing to check', async () => {
    const known = await sheet(answered(true));
    expect(known).toContain('What was checked Hand on the rod: yes · Ruta');
    expect(known).not.toContain('What to check next');
    const open = await sheet(answered(false));
    expect(open).toContain('Hand on the rod: no · Ruta');
  });
  test('nothing on it runs over a margin or another text, however long it is', async () => {
    const wordy = {
      ...asked,
      reports: asked.reports.map((one) => ({ ...one, words: long(one.words, 30), stop: long('do not drive it') })),
      checks: asked.checks.map((one) => ({
        ...one,
        words: long(one.words),
        cautions: [long('fan may start')],
        shows: Array.from({ length: 13 }, (_, i) => (i % 3 === 0 ? 0.8 : 0.1)),
      })),
      explanations: Array.from({ length: 12 }, (_, i) => ({
        weakPointId: `c${i}`,
        title: long(`Cause ${i}`),
        risk: 0.05,
      })),
      answers: Array.from({ length: 20 }, (_, i) => ({
        about: `check:${i}`,
        words: long(`Check ${i}`),
        said: i % 2 === 0,
        by: 'Ruta',
      })),
    } as unknown as WireTriage;
    for (const shown of [asked, answered(true), wordy])
      expect(await faultsOf(complaintSheetPdf({ name: 'PM 482 KX', engine: 'Vellmar QV20T' }, shown, FORMATS))).toEqual(
        [],
      );
  });

  test('lists the eight likeliest', async () => {
    const explanations = Array.from({ length: 10 }, (_, i) => ({
      weakPointId: `p${i}`,
      title: `Cause ${i}`,
      risk: 0.2 - i * 0.01,
    }));
    const many = { ...asked, explanations, checks: [], reports: [] } as unknown as WireTriage;
    const text = await sheet(many);
    expect(text).toContain('Cause 7');
    expect(text).not.toContain('Cause 8');
  });
});

describe('a walk', () => {
  const step = (more: Partial<WalkStep>): WalkStep =>
    ({
      key: 'k',
      kind: 'point',
      title: 'Belt frays',
      place: 'top',
      method: 'look',
      how: 'Look at its edges',
      good: 'clean',
      worn: null,
      failed: 'threads',
      measure: null,
      grades: [],
      minutes: 5,
      takesOff: [],
      teardownMinutes: 0,
      tools: [],
      cautions: [],
      why: 'Near its time.',
      ...more,
    }) as WalkStep;
  const view = (steps: WalkStep[], more: Partial<WalkView> = {}): WalkView =>
    ({
      engine: ENGINE,
      vehicle: { plate: 'PM 482 KX', name: 'The blue one', model: 'Corrow' },
      odometerUnit: 'mi',
      today: dayFromIso('2026-11-24')!,
      now: { day: 0, km: 160_934.4 },
      steps,
      minutes: 41.4,
      leftOut: [],
      forbidden: [],
      holds: [],
      ...more,
    }) as unknown as WalkView;
  const sheet = (of: WalkView) => whole(walkSheetPdf(of, FORMATS));

  test('says whose it is and how far it has run, in its own unit', async () => {
    const text = await sheet(view([step({})]));
    expect(text).toContain('Walk PM 482 KX Vellmar Corrow QV20T 2.0 turbo petrol');
    expect(text).toContain('about 100,000 mi · 24 Nov 2026 · 1 item, about 41 min · Tarred Quay Garage');
    expect(await sheet(view([step({}), step({})]))).toContain('2 items, about');
    expect(text).not.toContain('History not known');
    expect(text).not.toContain('Left out');
  });
  test('a complaint that holds the vehicle stands before the items; what it forbids stands after them, with its need', async () => {
    const holds = [{ words: 'Oil lamp', day: 1, stop: 'Do not run it.', drive: null, forbids: ['running'] }];
    const forbidden = [{ key: 'point:a', title: 'Chain', needs: 'engine running' }];
    const text = await sheet(view([step({})], { holds: holds as never, forbidden: forbidden }));
    expect(text.indexOf('HOLD. Oil lamp: Do not run it.')).toBeLessThan(text.indexOf('1 Belt frays'));
    expect(text).toContain('Left out until the cause of the complaint is found: Chain (engine running).');
    expect(text.match(/HOLD/g)).toHaveLength(1);
  });
  test('of an engine alone says that nothing is known; of a vehicle without a plate its name', async () => {
    const bare = await sheet(view([], { vehicle: null }));
    expect(bare).toContain('Walk QV20T Vellmar QV20T 2.0 turbo petrol');
    expect(bare).toContain('History not known: everything is taken as nobody can show it.');
    const named = view([], { vehicle: { plate: null, name: 'The blue one', model: null } as never });
    expect(await sheet(named)).toContain('Walk The blue one Vellmar QV20T');
  });
  test('goes place by place, numbered through, each item with what it takes and how each result looks', async () => {
    const text = await sheet(
      view(
        [
          step({ place: 'underneath', title: 'Pan seeps', tools: ['lamp', 'mirror'], cautions: ['hot oil'] }),
          step({ takesOff: ['the guard', 'the cover'], teardownMinutes: 17 }),
        ],
        { leftOut: [{ title: 'Cap' }, { title: 'Hose' }] as never },
      ),
    );
    expect(text).toMatch(/1 Belt frays Look · 5 min First off: the guard, the cover \(17 min\) Look at its edges/);
    expect(text).toMatch(/Near its time\. Good: clean Worn Failed: threads Not checked Note/);
    expect(text).toMatch(/2 Pan seeps .*Takes: lamp, mirror Take care: hot oil/);
    expect(text).toContain('Left out for time: Cap; Hose.');
    expect(text.indexOf('Belt frays')).toBeLessThan(text.indexOf('Pan seeps'));
  });
  test('a task is done or not; grades stand in their own words; a measurement has its limit and its unit', async () => {
    const text = await sheet(
      view([
        step({ kind: 'task', title: 'Radiator', method: null, good: null, failed: null }),
        step({
          title: 'Seam',
          grades: [
            { words: 'dry', means: 'sound' },
            { words: 'crust', means: 'worn' },
          ],
        }),
        step({ title: 'Gap', measure: { what: 'Gap', unit: 'mm', limit: 6.5, worse: 'lower' } as never }),
        step({ title: 'Play', measure: { what: 'Play', unit: 'mm', limit: 2, worse: 'higher' } as never }),
      ]),
    );
    expect(text).toMatch(/1 Radiator 5 min Look at its edges Near its time\. Done Could not Note/);
    expect(text).toMatch(/2 Seam .* dry crust could not see/);
    expect(text).toMatch(/Gap: _+ mm worn down to 6\.5 mm/);
    expect(text).toMatch(/Play: _+ mm worn from 2 mm/);
  });
  test('nothing on it runs over a margin or another text, however long it is', async () => {
    const wordy = step({
      title: long('Belt frays'),
      how: long('Look at its edges'),
      why: long('Near its time.'),
      good: long('clean', 6),
      worn: long('frayed', 9),
      failed: long('threads', 3),
      tools: [long('lamp')],
      cautions: [long('hot oil'), long('fan may start')],
      takesOff: [long('the guard')],
      measure: { what: long('Gap', 5), unit: 'mm', limit: 6.5, worse: 'lower' } as never,
    });
    const grades = ['dry', 'a crust at the lower edge', 'drops', 'runs'].map((words) => ({ words, means: 'worn' }));
    const steps = [
      step({}),
      wordy,
      step({ grades: grades as never, place: 'underneath', method: null }),
      wordy,
      ...Array.from({ length: 20 }, (_, i) => step({ title: `Item ${i}`, place: 'opened' })),
    ];
    const leftOut = Array.from({ length: 30 }, (_, i) => ({ title: `Left ${i}` })) as never;
    for (const shown of [view([step({})]), view(steps, { leftOut }), view(steps, { vehicle: null })])
      expect(await faultsOf(walkSheetPdf(shown, FORMATS))).toEqual([]);
  });

  test('goes on to further pages, each with the foot and its number', async () => {
    const pages = await sheetPages(
      walkSheetPdf(view(Array.from({ length: 14 }, (_, i) => step({ title: `Item ${i}` }))), FORMATS),
    );
    expect(pages.length).toBeGreaterThan(1);
    pages.forEach((page, i) => {
      expect(page).toContain('A sheet to look by');
      expect(page.endsWith(`${i + 1} of ${pages.length}`)).toBe(true);
    });
  });
});

describe('before a purchase', () => {
  const look = {
    title: 'Belt frays',
    place: 'top',
    how: 'Look at its edges',
    good: 'clean',
    worn: 'frayed',
    minutes: 5,
    cautions: ['fan may start'],
  };
  const job = { day: dayFromIso('2027-03-02')!, safety: false, chance: null, isPriceTold: true, ifWorn: null };
  const view = (more: Partial<PurchaseView> = {}): PurchaseView =>
    ({
      engine: ENGINE,
      now: { day: 0, km: 160_934.4 },
      odometerUnit: 'mi',
      years: [
        { visits: 90_000, failures: 10_000 },
        { visits: 40_000, failures: 20_000 },
      ],
      total: { visits: 130_000, failures: 30_000, low: 100_000, high: 400_000 },
      price: null,
      holds: [],
      visits: 1,
      jobs: [
        { ...job, kind: 'renew', title: 'Belt', money: 60_000, chance: 0.123, safety: true },
        { ...job, kind: 'task', title: 'Oil', money: 9000 },
        { ...job, kind: 'task', title: 'Plugs', money: 7000 },
        {
          ...job,
          kind: 'look',
          title: 'Pan',
          money: 3000,
          day: dayFromIso('2027-09-02')!,
          ifWorn: { chance: 0.06, money: 64_000 },
        },
        { ...job, kind: 'renew', title: 'Hose', money: 5000, isPriceTold: false, day: dayFromIso('2027-09-02')! },
      ],
      looks: [
        look,
        {
          ...look,
          title: 'Pan seeps',
          place: 'underneath',
          good: null,
          worn: null,
          cautions: ['fan may start', 'hot oil'],
        },
      ],
      questions: [
        { ask: 'When was the belt done?', proof: true },
        { ask: 'What is it used for?', proof: false },
      ],
      ...more,
    }) as unknown as PurchaseView;
  const sheet = (of: PurchaseView) => whole(purchaseSheetPdf(of, FORMATS));

  test('a complaint in the line that holds the vehicle stands before what it costs', async () => {
    const holds = [{ words: 'Spins fast', day: 1, stop: 'Do not crank.', drive: null, forbids: ['cranking'] }];
    const text = await sheet(view({ holds: holds as never }));
    expect(text.indexOf('HOLD. Spins fast: Do not crank.')).toBeGreaterThan(0);
    expect(text.indexOf('HOLD. Spins fast')).toBeLessThan(text.indexOf('What the first two years cost'));
  });

  test('where nothing else is likely to break, says so instead of a range from a sum to the same sum', async () => {
    const total = { visits: 130_000, failures: 4000, low: 130_000, high: 130_000 };
    const text = await sheet(view({ total }));
    expect(text).toContain('In nine cases of ten nothing breaks beside the planned work');
    expect(text).not.toContain('ten between');
  });

  test('says what two years cost, with their spread', async () => {
    const text = await sheet(view());
    expect(text).toContain('Before a purchase Vellmar QV20T');
    expect(text).toContain('What the first two years cost Year 1');
    expect(text).toMatch(/Look at it before Belt frays/);
    expect(text).toContain('2.0 turbo petrol · 100,000 mi · history not known · Tarred Quay Garage');
    for (const [words, money] of [
      ['Year 1: visits and parts £900, failures expected beside them £100', '£1,000'],
      ['Year 2: visits and parts £400, failures expected beside them £200', '£600'],
      ['Together', '£1,600'],
      ['In nine cases of ten between', '£1,000 and £4,000'],
    ] as const)
      expect(text).toContain(`${words} ${money}`);
    expect(text).not.toContain('Asked for it');
  });
  test('with a price, that and both together', async () => {
    const text = await sheet(view({ price: 420_000 }));
    expect(text).toContain('Asked for it £4,200 Price and two years £5,800');
  });
  test('says what it will ask for; what recurs on one day is one line', async () => {
    const text = await sheet(view());
    expect(text).toContain('Work due in two years, on one visit');
    expect(text).toMatch(/Mar 2027 Renew: Belt, 12% before the next service \(safety\) £600/);
    expect(text).toContain('Mar 2027 Upkeep: Oil, Plugs £160');
    expect(text).toMatch(/Sept? 2027 Look: Pan; if it is found worn \(6%\): about £640 £30/);
    expect(text).toMatch(/Sept? 2027 Renew: Hose, price of the part not told £50/);
    expect(await sheet(view({ visits: 3 }))).toContain('on 3 visits');
  });
  test('an amount stands on the page of its words, however many there are', async () => {
    const tasks = Array.from({ length: 40 }, (_, day) => ({
      ...job,
      day: job.day + 40 * day,
      kind: 'task',
      title: `Task ${day} `.repeat(70).trim(),
      money: 100_000 + 100 * day,
    }));
    const pages = await sheetPages(purchaseSheetPdf(view({ jobs: tasks as never }), FORMATS));
    expect(pages.length).toBeGreaterThan(2);
    tasks.forEach(({ title, money }) => {
      const amount = `£${(money / 100).toLocaleString('en-GB')}`;
      expect(pages.filter((page) => page.includes(`${title} ${amount}`))).toHaveLength(1);
    });
  });
  test('nothing on it runs over a margin or another text, however long it is', async () => {
    const jobs = Array.from({ length: 30 }, (_, i) => ({
      ...job,
      day: job.day + 30 * i,
      kind: i % 3 === 0 ? 'renew' : 'task',
      title: long(`Job ${i}`, 1 + (i % 4) * 8),
      money: 123_456_700,
    }));
    const looks = Array.from({ length: 20 }, (_, i) => ({
      ...look,
      title: long(`Look ${i}`, 1 + (i % 4) * 5),
      how: long('Look at its edges', 1 + (i % 5) * 3),
      cautions: [long('fan may start', 2), `Care ${i}.`],
    }));
    const questions = Array.from({ length: 9 }, (_, i) => ({
      ask: long(`Was it ever renewed, ${i}?`, 1 + (i % 3) * 4),
      proof: i % 2 === 0,
    }));
    const many = { jobs, looks, questions, price: 420_000 } as never;
    for (const shown of [view(), view(many)]) expect(await faultsOf(purchaseSheetPdf(shown, FORMATS))).toEqual([]);
  });

  test('says what to look at, what to take care of once, and what to ask', async () => {
    const text = await sheet(view());
    expect(text).toMatch(/Belt frays \([^)]*, 5 min\) Look at its edges good: clean; worn: frayed Pan seeps/);
    expect(text).toContain('Take care: fan may start hot oil');
    expect(text).toContain('Ask the seller When was the belt done? Show me the invoice.');
    expect(text).toMatch(/What is it used for\?(?! Show)/);
    expect(await sheet(view({ questions: [], looks: [] }))).not.toMatch(/Ask the seller|Take care/);
  });
});

test('names in other alphabets are printed, and a letter that no typeface has is told in the foot', async () => {
  const sheet = await newSheet('Letters');
  heading(sheet, 'Łódź Žižkov');
  heading(sheet, 'Жигули Ωmega');
  sheet.text('Kowalczyk, Łódź; Οδός 3; ☃ here');
  const [page] = await sheetPages(finished(sheet, 'Foot.'));
  expect(page).toContain('Łódź Žižkov');
  expect(page).toContain('Жигули Ωmega');
  expect(page).toContain('Kowalczyk, Łódź; Οδός 3; □ here');
  expect(page).toContain('Letters that cannot be printed stand as a box: U+2603.');
});
