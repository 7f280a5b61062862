import { noticeDraft, pointDraft, type LibraryAuthority, type LibraryPoint, type Notice } from '@crosspeen/contract';
import { dayFromIso, parseSpans } from '@crosspeen/core';
import {
  causesTyped,
  draftCurve,
  draftFrom,
  EMPTY_DRAFT,
  touchesParams,
  valuesFrom,
  type DraftValues,
  type KnownComponent,
} from './draft.ts';
import { authorityNamed, EMPTY_NOTICE, noticeFrom, valuesOfNotice, type NoticeValues } from './notice-values.ts';
import { appliesWords, coversWords, coverWords, doneWords, shareText, windowText } from './words.ts';

const TODAY = dayFromIso('2026-11-24')!;
const FAMILY = '9d34e913-67e5-4747-900f-a9e93dd2b8b1';
const POINT = '1f1f27f2-0d38-4d37-8d57-3d2f0e0a4a11';
const HOUSING: KnownComponent = {
  id: '0b9d3c0e-1111-4222-8333-444455556666',
  name: 'Thermostat housing',
  class: 'plastic',
  group: 'cooling',
};
const spans = (text: string) => {
  const parsed = parseSpans(text);
  if (!parsed.ok) throw new Error(parsed.problem);
  return [...parsed.value];
};

const TYPED: DraftValues = {
  ...EMPTY_DRAFT,
  familyId: FAMILY,
  title: ' Housing cracks ',
  component: ' thermostat HOUSING ',
  effect: 'It loses coolant.',
  signs: 'A dried trail.',
  windows: '70-140k km ; 7-12y; ',
  lookHow: 'With a lamp',
  lookMinutes: '10',
  lookDetects: '70',
  lookWarns: '5k km',
  renewMinutes: '95',
};

describe('a weak point as it is written', () => {
  test('is what the server takes: a component on file is found whatever its case, causes are parted, per cent are parts of one', () => {
    const draft = draftFrom(TYPED, [HOUSING], TODAY);
    expect(draft).toMatchObject({
      title: 'Housing cracks',
      componentId: HOUSING.id,
      newComponent: null,
      causes: ['70-140k km', '7-12y'],
      look: { minutes: 10, detects: 0.7, warns: '5k km' },
      renewMinutes: 95,
      statement: null,
      producedFrom: null,
      retiredByRevision: null,
    });
    expect(pointDraft.safeParse(draft).error?.issues).toBeUndefined();
  });
  test('a component nobody knows is a new one, with the class and group chosen', () => {
    expect(
      draftFrom({ ...TYPED, component: 'Heater pipe', newClass: 'rubber', newGroup: 'cooling' }, [HOUSING], TODAY),
    ).toMatchObject({ componentId: null, newComponent: { name: 'Heater pipe', class: 'rubber', group: 'cooling' } });
  });
  test('a decimal comma counts; words where a figure belongs are no figure, and the server names the field', () => {
    expect(draftFrom({ ...TYPED, lookDetects: '72,5' }, [HOUSING], TODAY).look!.detects).toBeCloseTo(0.725, 12);
    const wrong = draftFrom({ ...TYPED, renewMinutes: 'an hour' }, [HOUSING], TODAY);
    expect(wrong.renewMinutes).toBeNaN();
    expect(pointDraft.safeParse(wrong).error!.issues[0]!.path).toEqual(['renewMinutes']);
  });
  test('without how to look there is no look, and without words of our own no statement', () => {
    expect(draftFrom({ ...TYPED, lookHow: '  ' }, [HOUSING], TODAY).look).toBeNull();
    expect(
      draftFrom({ ...TYPED, says: ' Renew it at 100. ', interval: '100k km', strength: 'counted' }, [HOUSING], TODAY)
        .statement,
    ).toEqual({ words: 'Renew it at 100.', interval: '100k km', asks: 'renew', strength: 'counted' });
    expect(draftFrom({ ...TYPED, says: 'Renew it.' }, [HOUSING], TODAY).statement).toEqual({
      words: 'Renew it.',
      interval: null,
      asks: 'renew',
      strength: null,
    });
  });
  test.each([
    ['', []],
    [' ; ;', []],
    ['9y', ['9y']],
    ['70-140k km | 7y; 900h', ['70-140k km | 7y', '900h']],
  ])('%j tells the causes %j', (text, causes) => expect(causesTyped(text)).toEqual(causes));

  const onFile = {
    row: {
      familyId: FAMILY,
      title: 'Housing cracks',
      component: HOUSING.name,
      group: 'cooling',
      consequence: 'leak',
      safety: false,
      signs: 'A dried trail.',
      nature: 'defect',
      share: 0.5,
      causes: [spans('70-140k km'), spans('7-12y')],
    },
    componentClass: 'plastic',
    effect: 'It loses coolant.',
    look: { how: 'With a lamp', minutes: 10, detection: 0.7, falseAlarm: 0.02, warning: spans('5k km') },
    renewMinutes: 95,
    appliesTo: { variants: ['early'], producedFromDay: dayFromIso('2012-03-01') },
    retiredByRevision: 'B',
    watch: { task: 'Look at the level', every: spans('1000 km') },
    statements: [
      { kind: 'book', words: 'No interval.', interval: [], strength: null },
      { kind: 'bench', words: 'Renew it at 100.', interval: spans('100k km'), asks: 'look', strength: 'practice' },
    ],
  } as unknown as LibraryPoint;
  test('on file, opened and saved untouched, says what it said', () => {
    const again = draftFrom(valuesFrom(onFile), [HOUSING], TODAY);
    expect(again).toMatchObject({
      componentId: HOUSING.id,
      nature: 'defect',
      share: 'many',
      watch: { task: 'Look at the level', every: '1k km' },
      look: { how: 'With a lamp', minutes: 10, detects: 0.7 },
      renewMinutes: 95,
      variants: ['early'],
      producedFrom: '2012-03-01',
      producedTo: null,
      retiredByRevision: 'B',
    });
    expect(again.causes.map(spans)).toEqual(onFile.row.causes);
    expect(spans(again.look!.warns)).toEqual(onFile.look!.warning);
    expect({ ...again.statement, interval: spans(again.statement!.interval!) }).toEqual({
      words: 'Renew it at 100.',
      interval: spans('100k km'),
      asks: 'look',
      strength: 'practice',
    });
  });
  test('a share between two words is opened as the nearer', () =>
    expect(valuesFrom({ ...onFile, row: { ...onFile.row, share: 0.47 } }).share).toBe('many'));

  test('what is counted for it: half-typed dates and a component that is none are left out', () => {
    expect(
      touchesParams(
        { ...TYPED, variants: ['early', 'late'], producedFrom: '2012-03-01', producedTo: '2012-' },
        [HOUSING],
        { not: null, today: TODAY },
      ),
    ).toEqual({
      familyId: FAMILY,
      variants: 'early,late',
      producedFrom: '2012-03-01',
      producedTo: null,
      title: 'Housing cracks',
      componentId: HOUSING.id,
      not: null,
    });
    expect(touchesParams({ ...TYPED, component: 'x' }, [HOUSING], { not: POINT, today: TODAY })).toMatchObject({
      componentId: null,
      not: POINT,
    });
  });
});

describe('the curve while it is typed', () => {
  test.each(['', '90-130k', 'soon', '90-130k km; later'])('%j draws none', (windows) =>
    expect(draftCurve(windows, { nature: 'wear', share: 'many' }, 'plastic')).toBeNull(),
  );
  test('of a fault: rises from nothing towards the share, on the clock told first, to half beyond the window', () => {
    const curve = draftCurve('90-130k km | 8-12y', { nature: 'defect', share: 'many' }, 'early')!;
    expect(curve.clock).toBe('distance');
    expect(curve.points[0]).toEqual({ at: 0, failed: 0 });
    expect(curve.points.at(-1)!.at).toBeCloseTo(195_000, 6);
    curve.points.slice(1).forEach(({ failed }, i) => expect(failed).toBeGreaterThanOrEqual(curve.points[i]!.failed));
    expect(curve.points.at(-1)!.failed).toBeLessThanOrEqual(0.5);
  });
  test('of what wears: about the share by the end of the window, and nearly all in the end', () => {
    const { points } = draftCurve('90-130k km', { nature: 'wear', share: 'many' }, 'plastic')!;
    // Forty steps of 3,250 km to the end of the window: F(130,000) = 0.9 x 0.5.
    expect(points[40]!.failed).toBeCloseTo(0.45, 9);
    expect(points.at(-1)!.failed).toBeGreaterThan(0.9);
  });
  test('one window on one clock: a tenth of those that have it have failed at its start, nine tenths at its end', () => {
    const { points } = draftCurve('100-150k km', { nature: 'wear', share: 'nearly all' }, 'plastic')!;
    // Sixty steps to 225,000 km: 3,750 km each, so that neither end of the window falls on one; between two, the curve
    // is nearly straight.
    const at = (km: number): number => {
      const i = Math.floor(km / 3750);
      const part = km / 3750 - i;
      return points[i]!.failed + part * (points[i + 1]!.failed - points[i]!.failed);
    };
    const [low, high] = [at(100_000), at(150_000)];
    expect(high / low).toBeCloseTo(9, 0);
    expect(low).toBeCloseTo(0.1 * 0.95, 1);
  });
  test('two causes fail sooner than either', () => {
    const failed = (windows: string): number =>
      draftCurve(windows, { nature: 'wear', share: 'nearly all' }, 'plastic')!.points[30]!.failed;
    expect(failed('90-130k km; 90-130k km')).toBeGreaterThan(failed('90-130k km'));
  });
});

describe('a notice as it is written', () => {
  const letters: LibraryAuthority = {
    id: '5a5a27f2-0d38-4d37-8d57-3d2f0e0a4a11' as LibraryAuthority['id'],
    name: 'Harbour letters',
    kind: 'bulletin',
    region: null,
  };
  const typed: NoticeValues = {
    ...EMPTY_NOTICE,
    authority: ' harbour LETTERS',
    number: ' H 7 ',
    title: 'Belts',
    words: 'Look at the back.',
    issued: '1.10.2026',
    points: [{ id: POINT as never, title: 'Belt', engineCode: 'QV16B' }],
    covers: '10y',
    endsOn: '2030-12-31',
  };
  test('is what the server takes; a bulletin leaves out what only a coverage has', () => {
    const draft = noticeFrom(typed, [letters], TODAY);
    expect(draft).toMatchObject({
      authorityId: letters.id,
      newAuthority: null,
      number: 'H 7',
      issued: '2026-10-01',
      points: [POINT],
      covers: null,
      endsOn: null,
    });
    expect(noticeDraft.safeParse(draft).error?.issues).toBeUndefined();
  });
  test('a coverage keeps its limits; with none of them it is refused with the field', () => {
    expect(noticeFrom({ ...typed, kind: 'coverage' }, [letters], TODAY)).toMatchObject({
      covers: '10y',
      endsOn: '2030-12-31',
    });
    const bare = noticeFrom({ ...typed, kind: 'coverage', covers: ' ', endsOn: '' }, [letters], TODAY);
    expect(noticeDraft.safeParse(bare).error!.issues[0]!.path).toEqual(['covers']);
  });
  test('a date that is none goes as it was typed, so that its field is named', () => {
    const draft = noticeFrom({ ...typed, producedFrom: 'spring' }, [letters], TODAY);
    expect(draft.producedFrom).toBe('spring');
    expect(noticeDraft.safeParse(draft).error!.issues[0]!.path).toEqual(['producedFrom']);
  });
  test('somebody who is not on file is new', () => {
    expect(authorityNamed('nobody', [letters])).toBeUndefined();
    expect(noticeFrom({ ...typed, authority: ' Quay sheet ' }, [letters], TODAY)).toMatchObject({
      authorityId: null,
      newAuthority: { name: 'Quay sheet', kind: 'bulletin' },
    });
  });
  test('on file, opened and saved untouched, is the same', () => {
    const notice = {
      row: { kind: 'coverage', authority: letters.name, number: 'H 2', title: 'Paid for', issued: '2026-09-01' },
      asks: 'renew',
      words: 'Renewed at no charge.',
      producedFrom: null,
      producedTo: '2018-01-01',
      covers: '13y | 210k km',
      endsOn: null,
      points: [{ id: POINT, title: 'Belt', engineCode: 'QV16B', maker: 'Corrow' }],
    } as unknown as Notice;
    expect(noticeFrom(valuesOfNotice(notice), [letters], TODAY)).toEqual({
      kind: 'coverage',
      authorityId: letters.id,
      newAuthority: null,
      number: 'H 2',
      title: 'Paid for',
      words: 'Renewed at no charge.',
      issued: '2026-09-01',
      asks: 'renew',
      points: [POINT],
      producedFrom: null,
      producedTo: '2018-01-01',
      covers: '13y | 210k km',
      endsOn: null,
    });
  });
});

describe('in plain words', () => {
  test('shares with the word they were told in, or the figure alone', () =>
    expect([shareText(0.5), shareText(0.33)]).toEqual(['many (50 %)', '33 %']));
  test('windows, each cause of its own', () =>
    expect(windowText({ causes: [spans('70-140k km'), spans('7-12y')] }, 'km')).toBe(
      '70,000 to 140,000 km; 7 to 12 years',
    ));
  test.each([
    [{}, 'every engine of this family'],
    [{ variants: ['a', 'gone'] }, 'up to 2013 or gone'],
    [{ models: ['Tallow'], markets: ['the north'] }, 'in Tallow, sold in the north'],
    [
      {
        producedFromDay: dayFromIso('2012-03-01')!,
        producedToDay: dayFromIso('2014-03-01')!,
        serialFrom: 100,
        serialTo: 900,
      },
      'made from 1 Mar 2012, made until 1 Mar 2014, engine number from 100, engine number to 900',
    ],
    [{ features: { 'start-stop': true, ac: false } }, 'with start stop, without ac'],
  ])('%j applies to %s', (rule, words) => expect(appliesWords(rule, [{ key: 'a', name: 'up to 2013' }])).toBe(words));
  test.each([
    [{ covers: '10y | 200k km', endsOn: null }, '10 years or 200,000 km'],
    [{ covers: null, endsOn: '2030-12-31' }, '31 Dec 2030 at the latest'],
    [{ covers: '10y', endsOn: '2030-12-31' }, '10 years, 31 Dec 2030 at the latest'],
    [{ covers: null, endsOn: null }, ''],
  ])('%j pays for %j', (notice, words) => expect(coversWords(notice, 'km')).toBe(words));
  test.each([
    [{ covered: true, coveredUntil: '2027-05-01' }, 'until 1 May 2027'],
    [{ covered: false, coveredUntil: '2026-05-01' }, 'over since 1 May 2026'],
    [{ covered: false, coveredUntil: null }, 'over'],
    [{ covered: null, coveredUntil: null }, 'not known'],
  ])('cover %j is %s', (row, words) => expect(coverWords(row)).toBe(words));
  test('what was done about it, latest of each kind, in one order', () => {
    const nothing = { renewed: null, revision: null, lastLook: null, lastResult: null, planned: null, lastCall: null };
    expect(doneWords(nothing)).toEqual([]);
    expect(
      doneWords({
        renewed: '2026-01-02',
        revision: 'C',
        lastLook: '2026-02-03',
        lastResult: 'worn',
        planned: '2026-12-10',
        lastCall: { day: '2026-11-20', outcome: 'coming', note: 'after ten' } as never,
      }),
    ).toEqual([
      'renewed 2 Jan 2026, revision C',
      'worn 3 Feb 2026',
      'on a visit 10 Dec 2026',
      'called 20 Nov 2026: is coming, “after ten”',
    ]);
    expect(
      doneWords({ ...nothing, lastCall: { day: '2026-11-20', outcome: 'no_answer', note: null } as never }),
    ).toEqual(['called 20 Nov 2026: no answer']);
  });
});
