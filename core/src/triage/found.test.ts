import type { FindingFact, ServiceFact } from '../outlook/record-types.ts';
import { foundAnswers, withFound } from './found.ts';
import { searchOn } from './search.ts';
import { STANDING_STILL } from '../look/needs.ts';

const POINTS = [
  { id: 'chain', componentKey: 'chain' },
  { id: 'pump', componentKey: 'pump' },
];
const TODAY = 1000;
const DAYS = { sinceDay: 900, reportedDay: 990, today: TODAY };
const found = (weakPointId: string, day: number, result: FindingFact['result']): FindingFact => ({
  weakPointId,
  day,
  result,
  broughtIn: false,
  sinceDay: null,
});
const renewed = (day: number, certainty: ServiceFact['certainty'] = 'done'): ServiceFact => ({
  componentKey: 'chain',
  certainty,
  day,
  grade: 'original',
  revision: null,
  source: null,
  cameOut: null,
});
const said = (findings: readonly FindingFact[], services: readonly ServiceFact[] = []): (boolean | null)[] => {
  const answers = foundAnswers(POINTS, { findings, services }, DAYS);
  return POINTS.map(({ id }) => answers.find(({ weakPointId }) => weakPointId === id)?.said ?? null);
};

describe('a look on file answers the check', () => {
  test('worn or failed from the day on which it may have come, good only from the day of the report on', () => {
    expect(said([found('chain', 900, 'worn'), found('pump', 990, 'sound')])).toEqual([true, false]);
    expect(said([found('chain', 899, 'worn'), found('pump', 989, 'sound')])).toEqual([null, null]);
    expect(said([found('chain', 995, 'failed')])).toEqual([true, null]);
    expect(said([found('chain', TODAY + 1, 'failed')])).toEqual([null, null]);
    expect(foundAnswers(POINTS, { findings: [found('pump', 991, 'worn')], services: [] }, DAYS)).toEqual([
      { about: 'look:pump', weakPointId: 'pump', said: true, day: 991 },
    ]);
  });
  test('the last one counts, in whichever order they were written', () => {
    const two = [found('chain', 996, 'sound'), found('chain', 992, 'worn')];
    expect(said(two)).toEqual([false, null]);
    expect(said([...two].reverse())).toEqual([false, null]);
  });
  test('one of the part that came out since says nothing', () => {
    const worn = [found('chain', 950, 'worn')];
    expect(said(worn, [renewed(949)])).toEqual([true, null]);
    expect(said(worn, [renewed(950)])).toEqual([null, null]);
    expect(said(worn, [renewed(960, 'believed')])).toEqual([true, null]);
    expect(said([found('chain', 992, 'sound')], [renewed(992)])).toEqual([false, null]);
    expect(said([found('chain', 992, 'sound')], [renewed(993)])).toEqual([null, null]);
  });
});

test('of two answers to one check the later counts, of one day the one given in the search', () => {
  const onFile = { about: 'look:chain', weakPointId: 'chain', said: true, day: 995 };
  const given = (day: number) => [
    { about: 'look:chain', day },
    { about: 'check:hand', day },
  ];
  expect(withFound(given(994), [onFile])).toEqual({ given: [{ about: 'check:hand', day: 994 }], found: [onFile] });
  expect(withFound(given(995), [onFile])).toEqual({ given: given(995), found: [] });
});

test('what was off for a look on file is on again', () => {
  const look = (id: string) => ({
    about: `look:${id}`,
    minutes: 6,
    off: ['cover'],
    shows: id === 'chain' ? [0.9, 0.02, 0.02] : [0.02, 0.9, 0.02],
    needs: STANDING_STILL,
    firstFor: [],
  });
  const minutes = (isOnFile: boolean): number =>
    searchOn({
      explanations: ['chain', 'pump'].map((weakPointId) => ({
        weakPointId,
        title: weakPointId,
        risk: 0.1,
        forbids: [],
      })),
      unlistedOdds: 0.03,
      checks: [look('chain'), look('pump')],
      operations: { cover: { minutes: 30, needs: [] } },
      reports: [],
      answers: [{ about: 'look:chain', said: false, isOnFile }],
    }).next[0]!.minutes;
  expect([minutes(false), minutes(true)]).toEqual([6, 36]);
});
