import { ERRORS, FAULTS, SAID } from '@crosspeen/contract';
import { databaseIsAway, databaseProblem, hadToGiveWay, rowsAtFault } from './database-problem.ts';

const twice = (constraint: string) => databaseProblem({ code: '23505', constraint });

test.each([
  ['notice_number', 'number', FAULTS.numberOnFile],
  ['engine_family_code_key_key', 'code', FAULTS.codeOfAnother],
  ['part_number_key', 'number', FAULTS.partOfAnother],
  ['visit_job_once', 'jobs', FAULTS.pointOnce],
])('what would stand twice by %s is told at its field', (constraint, path, message) => {
  expect(twice(constraint)!.toDetails()).toMatchObject({ code: 'taken', fields: [{ path, message }] });
});

test.each([
  ['vehicle_plate', 'plate_taken'],
  ['change_undoes_key', 'already_undone'],
  ['library_change_undoes_key', 'already_undone'],
  ['school_choice_once', 'busy'],
  ['fleet_run_one', 'busy'],
])('what would stand twice by %s is %s', (constraint, code) => {
  expect(twice(constraint)!.toDetails()).toMatchObject({ code });
  expect(twice(constraint)!.extra).toEqual({});
});

test('what would stand twice by a rule that has no words of its own is taken all the same', () => {
  for (const problem of [twice('some_other_key'), databaseProblem({ code: '23505' })])
    expect([problem!.code, problem!.extra, problem!.message]).toEqual(['taken', {}, ERRORS.taken.message]);
});

test.each([
  ['ECONNREFUSED'],
  ['ECONNRESET'],
  ['EPIPE'],
  ['ENOTFOUND'],
  ['ETIMEDOUT'],
  ['57P01'],
  ['57P02'],
  ['57P03'],
  ['3D000'],
  ['08000'],
  ['08001'],
  ['08003'],
  ['08004'],
  ['08006'],
])('%s: the database is away', (code) => {
  expect([
    databaseIsAway({ code }),
    databaseIsAway({ driverError: { code } }),
    databaseProblem({ code })!.code,
  ]).toEqual([true, true, 'database_away']);
});

test('a connection that was lost is known by its words alone; other words are no such thing', () => {
  for (const message of [
    'Connection terminated unexpectedly',
    'Connection terminated',
    'Client has encountered a connection error and is not queryable',
  ])
    expect([databaseIsAway({ message }), databaseProblem({ message })!.code]).toEqual([true, 'database_away']);
  for (const message of ['My Connection terminated', 'Client has left', undefined, 7])
    expect([databaseIsAway({ message }), databaseProblem({ message })]).toEqual([false, null]);
  const late = { message: 'timeout exceeded when trying to connect' };
  expect([databaseIsAway(late), databaseProblem(late)!.code]).toEqual([true, 'busy']);
});

test.each([
  ['23503', SAID.referredGone],
  ['22021', SAID.characterNotKept],
  ['22P05', SAID.characterNotKept],
  ['22003', SAID.outsideOfWhatIsKept],
  ['22007', SAID.outsideOfWhatIsKept],
  ['22008', SAID.outsideOfWhatIsKept],
  ['22P02', SAID.outsideOfWhatIsKept],
  ['23514', SAID.outsideOfWhatIsKept],
])('%s is said in words of its own', (code, said) => expect(databaseProblem({ code })!.said).toEqual(said));

test.each([
  ['40001', 'busy'],
  ['40P01', 'busy'],
  ['53300', 'busy'],
  ['55P03', 'busy'],
  ['57014', 'took_too_long'],
  ['53100', 'no_space'],
  ['58030', 'no_space'],
])('%s is %s', (code, means) => expect(databaseProblem({ code })!.code).toBe(means));

test('a transaction that had to give way, and rows that are at fault themselves', () => {
  const codes = ['40001', '40P01', '40002', '23505', '22003', '24000', '12200', undefined];
  expect(codes.filter((code) => hadToGiveWay({ driverError: { code } }))).toEqual(['40001', '40P01']);
  expect(codes.filter((code) => rowsAtFault({ code }))).toEqual(['23505', '22003']);
  for (const nothing of [null, undefined, 'words', {}])
    expect([hadToGiveWay(nothing), rowsAtFault(nothing), databaseIsAway(nothing)]).toEqual([false, false, false]);
});
