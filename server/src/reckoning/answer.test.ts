import { dayFromIso, type NoticeFact } from '@crosspeen/core';
import type { FamilyKnowledge, VariantRow } from '../knowledge/family.ts';
import { DEFAULT_SETTINGS } from '../ledger/settings.ts';
import { answerFor, fittingVariants } from './answer.ts';
import { UNKNOWN_SUBJECT, type Subject } from './subject.ts';

const TODAY = dayFromIso('2026-11-24')!;
const variant = (key: string, producedFrom: string | null, producedTo: string | null): VariantRow => ({
  id: key,
  key,
  name: key,
  howToTell: null,
  serialFrom: null,
  serialTo: null,
  producedFrom,
  producedTo,
  models: [],
});
const VARIANTS = [variant('early', '2011-03-01', '2014-08-31'), variant('late', '2014-09-01', null)];
const fitting = (iso: string | null, exact: boolean, variantKey: string | null = null) =>
  fittingVariants(VARIANTS, {
    registeredDay: iso === null ? null : dayFromIso(iso),
    registeredExact: exact,
    variantKey,
    serial: null,
  }).map(({ key, weight }) => [key, Math.round(weight * 100)]);

describe('variants that fit a registration', () => {
  test('a vehicle is made before it is registered, by half a year at most', () => {
    expect(fitting('2014-12-01', true)).toEqual([
      ['early', 50],
      ['late', 50],
    ]);
    expect(fitting('2014-08-31', true)).toEqual([['early', 100]]);
    expect(fitting('2015-04-01', true)).toEqual([['late', 100]]);
  });
  test('a bare year may be any day of it', () => {
    const [early, late] = fitting('2014-07-01', false) as [[string, number], [string, number]];
    expect([early[0], late[0]]).toEqual(['early', 'late']);
    expect(early[1]).toBeGreaterThan(late[1]);
  });
  test('a chosen variant stands alone, whatever the year', () =>
    expect(fitting('2012-01-01', true, 'late')).toEqual([['late', 100]]));
  test('nothing known weighs all; a year outside every run does too, rather than answering nothing', () => {
    expect(fitting(null, false)).toHaveLength(2);
    expect(fitting('1999-01-01', true)).toHaveLength(2);
  });
});

describe('notices beside a row', () => {
  const knowledge: FamilyKnowledge = {
    engine: { familyId: 'f' } as FamilyKnowledge['engine'],
    variants: VARIANTS,
    features: [],
    layout: null,
    checks: [],
    operations: [],
    tasks: [],
    weakPoints: [
      {
        id: 'p',
        key: 'pump',
        title: 'Pump',
        component: 'Water pump',
        componentKey: 'pump',
        componentClass: 'bearing',
        nature: 'wear',
        group: 'cooling',
        consequence: 'leak',
        safety: false,
        effect: '',
        signs: '',
        share: 0.5,
        causes: [[{ clock: 'distance', from: 90_000, to: 160_000 }]],
        look: null,
        renewMinutes: 60,
        access: [],
        partPrice: null,
        appliesTo: {},
        retiredByRevision: null,
        watch: null,
        damages: [],
        symptoms: [],
        failure: null,
        hastens: [],
        revisions: [],
        fittedTo: 'engine',
        revisedHowToTell: null,
        experience: null,
        statements: [],
      },
    ],
  };
  const subject: Subject = {
    ...UNKNOWN_SUBJECT,
    readings: [
      { day: TODAY - 730, km: 80_000 },
      { day: TODAY, km: 100_000 },
    ],
    registeredDay: TODAY - 4000,
    registeredExact: true,
  };
  const notice = (changes: Partial<NoticeFact> = {}): NoticeFact => ({
    id: 'n',
    number: 'C 1',
    title: 'Pumps',
    authority: 'Maker',
    issuedDay: TODAY - 100,
    asks: 'look',
    producedFromDay: null,
    producedToDay: null,
    models: [],
    cover: { days: null, km: null, lastDay: null, pays: 1 },
    ...changes,
  });
  /** A coverage with these limits. */
  const cover = (limits: Partial<NonNullable<NoticeFact['cover']>>): NoticeFact =>
    notice({ cover: { ...notice().cover!, ...limits } });
  const beside = (notices: readonly NoticeFact[], about: Subject = subject) =>
    answerFor(
      {
        knowledge: { ...knowledge, weakPoints: [{ ...knowledge.weakPoints[0]!, notices }] },
        subject: about,
        settings: DEFAULT_SETTINGS,
        today: TODAY,
      },
      { drawn: false },
    ).judgements[0]!.notices;
  test('a bulletin is there, and pays for nothing', () =>
    expect(beside([notice({ cover: null })])).toMatchObject([{ kind: 'bulletin', covered: null, coveredUntil: null }]));
  test('a coverage ends at the nearest of its limits: age, last day, or where the path reaches its distance', () => {
    expect(beside([cover({ days: 4300 })])).toMatchObject([{ covered: true, coveredUntil: TODAY + 300 }]);
    expect(beside([cover({ days: 4300, lastDay: dayFromIso('2026-12-01') })])).toMatchObject([
      { covered: true, coveredUntil: dayFromIso('2026-12-01') },
    ]);
    expect(beside([cover({ days: 3999 })])).toMatchObject([{ covered: false }]);
    // 27.4 km a day in its last two years, 25 over its life: 5,000 km last between 182 and 200 days.
    const { coveredUntil } = beside([cover({ km: 105_000 })])[0]!;
    expect(coveredUntil).toBeGreaterThanOrEqual(TODAY + 182);
    expect(coveredUntil).toBeLessThan(TODAY + 200);
  });
  test('a limit that cannot be told ends nothing: without the day of registration there is no age', () => {
    expect(beside([cover({ days: 4300 })], { ...subject, registeredDay: null })).toMatchObject([
      { covered: true, coveredUntil: null },
    ]);
  });
  test('what was made at another time is not there', () => {
    expect(beside([notice({ producedToDay: dayFromIso('2010-01-01') })])).toEqual([]);
  });
  test('of some models it is there for these, and where nobody knows which it is', () => {
    const some = notice({ models: ['Corrow', 'Saltmere'] });
    const there = (model: string | null, of = some): number => beside([of], { ...subject, model }).length;
    expect([there('Saltmere'), there('Fennick'), there(null)]).toEqual([1, 0, 1]);
    expect(there('Fennick', notice())).toBe(1);
  });
  test('a coverage pays all, or the part that is told; on its last day still', () => {
    expect(beside([notice()])[0]!.pays).toBe(1);
    expect(beside([cover({ pays: 0.4 })])[0]!.pays).toBe(0.4);
    expect(beside([notice({ cover: null })])[0]).toMatchObject({ pays: null, covered: null, coveredUntil: null });
    expect(beside([cover({ lastDay: dayFromIso('2026-11-24') })])).toMatchObject([{ covered: true }]);
    expect(beside([cover({ lastDay: dayFromIso('2026-11-23') })])).toMatchObject([{ covered: false }]);
    expect(beside([notice()])[0]).toEqual({
      id: 'n',
      kind: 'coverage',
      number: 'C 1',
      title: 'Pumps',
      authority: 'Maker',
      coveredUntil: null,
      pays: 1,
      covered: true,
    });
  });
  test('made between two days: what may have been made then', () => {
    // Registered in December 2015: made half a year before it at most.
    const made = (changes: Partial<NoticeFact>): number => beside([notice(changes)]).length;
    expect(made({ producedFromDay: dayFromIso('2015-01-01'), producedToDay: dayFromIso('2015-12-31') })).toBe(1);
    expect(made({ producedFromDay: dayFromIso('2016-01-01') })).toBe(0);
    expect(made({ producedToDay: dayFromIso('2015-01-01') })).toBe(0);
  });

  describe('the answer beside it', () => {
    const answered = (more: Partial<FamilyKnowledge> = {}, about: Partial<Subject> = {}, drawn = false) =>
      answerFor(
        {
          knowledge: { ...knowledge, ...more },
          subject: { ...subject, ...about },
          settings: DEFAULT_SETTINGS,
          today: TODAY,
        },
        { drawn },
      );
    const [point] = knowledge.weakPoints as [FamilyKnowledge['weakPoints'][number]];

    test('of a weak point that nobody told more of, says so', () => {
      expect(answered().points).toEqual([
        {
          weakPointId: 'p',
          key: 'pump',
          title: 'Pump',
          component: 'Water pump',
          componentKey: 'pump',
          componentClass: 'bearing',
          nature: 'wear',
          group: 'cooling',
          fittedTo: 'engine',
          consequence: 'leak',
          safety: false,
          effect: '',
          signs: '',
          share: 0.5,
          causes: [[{ clock: 'distance', from: 90_000, to: 160_000 }]],
          renewMinutes: 60,
          operation: null,
          look: null,
          notTold: [],
          damages: [],
          symptoms: [],
          failure: null,
          hastens: [],
          revisions: [],
          work: null,
          partPrice: null,
          usualPrice: null,
          retiredByRevision: null,
          watch: null,
          experience: null,
          statements: [],
        },
      ]);
    });

    test('of what is told says all of it, and nothing that is not', () => {
      const span = { clock: 'distance', from: 5000, to: 9000 } as const;
      const look = { how: 'By eye', minutes: 5, detection: 0.8, falseAlarm: 0.1, warning: [span] };
      const work = {
        tools: [{ name: 'Bar', without: null }],
        cautions: ['Hot.'],
        renewWith: ['Belt'],
        oneTime: ['Bolt'],
        fluids: ['Oil'],
        afterwards: ['Bleed'],
      };
      const [told] = answered({
        weakPoints: [
          {
            ...point,
            operation: 'pump-off',
            look,
            notTold: ['share'],
            damages: [
              { harms: 'the bores', chance: 0.5, within: [span] },
              { weakPoint: 'belt', chance: 1, within: [] },
            ],
            symptoms: [
              { symptom: 'howl', shows: 0.5 },
              { symptom: 'drip', shows: 1, words: 'It drips', codes: ['P1'], tells: 'Dye', stop: 'Tow' },
            ],
            revisions: [{ revision: 'B', causes: [[span]] }],
            watch: { task: 'oil', every: [span] },
            experience: { parts: 3, failures: 1, nodes: [] },
            statements: [
              {
                authority: 'Shed',
                kind: 'specialist',
                edition: null,
                region: null,
                words: 'x',
                interval: [span],
                asks: 'renew',
                always: true,
              },
              {
                authority: 'Den',
                kind: 'specialist',
                edition: null,
                region: null,
                words: 'y',
                interval: [],
                asks: 'look',
                doubted: true,
                strength: 'heard' as never,
              },
            ],
            work,
          },
        ],
      }).points;
      expect(told).toMatchObject({
        operation: 'pump-off',
        notTold: ['share'],
        damages: [
          { harms: 'the bores', chance: 0.5, within: [span] },
          { harms: '', weakPoint: 'belt', chance: 1, within: [] },
        ],
        symptoms: [
          { symptom: 'howl', shows: 0.5, words: 'howl', codes: [], tells: null, stop: null },
          { symptom: 'drip', shows: 1, words: 'It drips', codes: ['P1'], tells: 'Dye', stop: 'Tow' },
        ],
        revisions: [{ revision: 'B', causes: [[span]] }],
        watch: { task: 'oil', every: [span] },
        experience: { parts: 3, failures: 1 },
        work,
        statements: [
          { authority: 'Shed', interval: [span], doubted: false, always: true, strength: null },
          { authority: 'Den', interval: [], doubted: true, always: false, strength: 'heard' },
        ],
      });
      expect(told!.look).toEqual({ how: 'By eye', minutes: 5, detection: 0.8, warning: [span], cautions: [] });
      const more = {
        place: 'top',
        method: 'feel',
        good: 'dry',
        worn: 'damp',
        failed: 'drips',
        off: ['cover'],
        spot: 'timing_end',
        tools: ['Lamp'],
        measure: { what: 'play', sense: [0.1, 0.2] },
        grades: [{ words: 'dry', means: 'sound' }],
      };
      const whole = answered({ weakPoints: [{ ...point, look: { ...look, ...more, cautions: ['Hot.'] } as never }] });
      expect(whole.points[0]!.look).toEqual({
        how: 'By eye',
        minutes: 5,
        detection: 0.8,
        warning: [span],
        cautions: ['Hot.'],
        ...more,
      });
      const noTools = answered({ weakPoints: [{ ...point, look: { ...look, tools: [] } }] });
      expect(noTools.points[0]!.look).not.toHaveProperty('tools');
    });

    test('says how it is used, from which readings, and what was left out of them', () => {
      const { usage, now, severity, engine, layout, operations, drawing } = answered(
        {
          operations: [
            { key: 'off', name: 'Pump off', minutes: 50, needs: ['cover'], tools: [], cautions: [] } as never,
          ],
        },
        { readings: [...subject.readings, { day: TODAY - 400, km: 3 }], severity: 1.3 },
      );
      expect(usage).toMatchObject({
        rejected: [{ day: TODAY - 400, km: 3 }],
        startDay: TODAY - 4000,
        startAssumed: false,
        meterOffsetKm: 0,
        engine: null,
      });
      expect([now.km, severity, engine, layout, drawing]).toEqual([100_000, 1.3, { familyId: 'f' }, null, null]);
      expect(operations).toEqual([{ key: 'off', name: 'Pump off', minutes: 50, needs: ['cover'] }]);
      expect(answered({}, { registeredDay: null }).usage.startAssumed).toBe(true);
      const swapped = answered({}, { engineSwaps: [{ day: TODAY - 100, engineKm: 30_000 }] }).usage.engine!;
      expect([swapped.fittedDay, swapped.assumed]).toEqual([TODAY - 100, false]);
      expect(swapped.km).toBeGreaterThan(31_000);
      const dash = answered({}, { meterChanges: [{ day: TODAY - 800, oldKm: 70_000, newKm: 0 }] });
      expect(dash.usage.meterOffsetKm).toBe(70_000);
    });

    test('says which variants it may be, the likelier first, and which it is not', () => {
      const { variants, otherVariants } = answered({}, { registeredDay: dayFromIso('2014-12-01') });
      expect(variants.map(({ key, weight }) => [key, Math.round(weight * 10)])).toEqual([
        ['early', 5],
        ['late', 5],
      ]);
      expect(otherVariants).toEqual([]);
      const late = answered({}, { registeredDay: dayFromIso('2019-01-01') });
      expect([late.variants.map(({ key }) => key), late.otherVariants.map(({ key, weight }) => [key, weight])]).toEqual(
        [['late'], [['early', 0]]],
      );
      const most = answered({}, { registeredDay: dayFromIso('2014-10-01') }).variants;
      expect(most[0]!.weight).toBeGreaterThan(most[1]!.weight);
      expect(most[0]!.key).toBe('early');
    });

    test('draws only what is asked for, to a millionth', () => {
      const { drawing } = answered({}, {}, true);
      const ribbon = drawing!.ribbons[0]!;
      expect(ribbon.weakPointId).toBe('p');
      for (const value of [
        ...ribbon.chance,
        ...ribbon.mass,
        ...drawing!.forecast.items.flatMap(({ chance, failed, renewed }) => [...chance, ...failed, ...renewed]),
      ])
        if (value !== null) expect(Math.abs(value * 1e6 - Math.round(value * 1e6))).toBeLessThan(1e-6);
      expect(ribbon.mass.reduce((sum, of) => sum + of, 0)).toBeGreaterThan(0.01);
    });
  });
});
