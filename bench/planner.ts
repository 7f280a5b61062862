import { planStanding, planVisits, searchPlan, workTogether, type KnownPlan, type PlanQuestion } from '@crosspeen/core';
import highs, { type Highs } from 'highs';
import { readFileSync } from 'node:fs';

/** Milliseconds of a frame while something is dragged, and for a proof in the background. */
const FRAME_MS = 15;
const PROOF_MS = 10_000;
/** Seconds that the general solver has for one question. */
const SOLVER_SECONDS = 20;

interface CaseIn {
  readonly T: number;
  readonly visit_fixed: number;
  readonly labour_rate: number;
  readonly cap: number;
  readonly budget: number;
  readonly ops: readonly { readonly m: number; readonly req: readonly number[] }[];
  readonly items: readonly {
    readonly req: readonly number[];
    readonly parts: number;
    readonly phi: readonly number[];
    readonly later: number;
    readonly pin: number;
    readonly deadline: number;
  }[];
}
interface Case {
  readonly in: CaseIn;
  readonly out: { readonly optimal_cost: number };
}

const questionOf = (told: CaseIn): PlanQuestion => ({
  operations: new Map(told.ops.map(({ m, req }, at) => [String(at), { minutes: m, needs: req.map(String) }])),
  items: told.items.map(({ req, parts, phi, later, pin, deadline }) => ({
    operations: req.map(String),
    ownMinutes: 0,
    parts,
    byMonth: phi,
    later,
    pin: pin < 0 ? null : pin,
    deadline: deadline < 0 ? null : deadline,
  })),
  months: told.T,
  visitCost: told.visit_fixed,
  labourPerMinute: told.labour_rate,
  capacity: told.cap || null,
  budget: told.budget || null,
});

/** All operations that some need, by their place. */
function closure({ ops }: CaseIn, req: readonly number[]): number[] {
  const found = new Set<number>();
  const take = (at: number): void => {
    if (found.has(at)) return;
    found.add(at);
    ops[at]!.req.forEach(take);
  };
  req.forEach(take);
  return [...found];
}

/** The same question as a mixed integer program in CPLEX LP format: x item in month, y operation in month, z visit. */
function programOf(told: CaseIn): string {
  const { T, ops, items, visit_fixed: fixed, labour_rate: rate, cap, budget } = told;
  const months = Array.from({ length: T }, (_, t) => t);
  const used = [...new Set(items.flatMap(({ req }) => closure(told, req)))];
  const term = (value: number, name: string): string => `${value < 0 ? '-' : '+'} ${Math.abs(value)} ${name}`;
  const cost = [
    ...items.flatMap(({ phi, later }, i) => [
      ...months.map((t) => term(phi[t]!, `x${i}_${t}`)),
      term(later, `x${i}_${T}`),
    ]),
    ...months.flatMap((t) => [term(fixed, `z${t}`), ...used.map((o) => term(rate * ops[o]!.m, `y${o}_${t}`))]),
  ];
  const rows: string[] = [];
  items.forEach(({ req, pin, deadline }, i) => {
    rows.push(`${[...months, T].map((t) => `+ x${i}_${t}`).join(' ')} = 1`);
    if (pin >= 0) rows.push(`x${i}_${pin} = 1`);
    if (deadline >= 0) for (let t = deadline + 1; t <= T; t += 1) rows.push(`x${i}_${t} = 0`);
    for (const t of months) {
      rows.push(`z${t} - x${i}_${t} >= 0`);
      for (const o of closure(told, req)) rows.push(`y${o}_${t} - x${i}_${t} >= 0`);
    }
  });
  for (const t of months) {
    const minutes = used.map((o) => `+ ${ops[o]!.m} y${o}_${t}`).join(' ');
    if (cap > 0) rows.push(`${minutes} <= ${cap}`);
    if (budget > 0)
      rows.push(
        `${used.map((o) => `+ ${rate * ops[o]!.m} y${o}_${t}`).join(' ')} + ${fixed} z${t} ${items
          .map(({ parts }, i) => `+ ${parts} x${i}_${t}`)
          .join(' ')} <= ${budget}`,
      );
  }
  const binaries = [
    ...items.flatMap((_, i) => [...months, T].map((t) => `x${i}_${t}`)),
    ...months.flatMap((t) => [`z${t}`, ...used.map((o) => `y${o}_${t}`)]),
  ];
  return [
    'Minimize',
    ` obj: ${cost.join('\n ')}`,
    'Subject To',
    ...rows.map((row, i) => ` c${i}: ${row}`),
    'Binary',
    ...binaries.map((name) => ` ${name}`),
    'End',
  ].join('\n');
}

const within = (milliseconds: number): { readonly until: () => boolean; readonly left: () => number } => {
  const began = performance.now();
  const left = (): number => 1 - (performance.now() - began) / milliseconds;
  return { left, until: () => left() <= 0 };
};

/** A solver made anew for one question: one that has failed once cannot be asked again. */
function solved(made: Highs, told: CaseIn): { readonly cost: number | null; readonly status: string } {
  try {
    const { ObjectiveValue, Status } = made.solve(programOf(told), {
      time_limit: SOLVER_SECONDS,
      output_flag: false,
      mip_rel_gap: 0,
    });
    return { cost: ObjectiveValue, status: Status };
  } catch (error) {
    return { cost: null, status: error instanceof Error ? error.message.slice(0, 40) : 'failed' };
  }
}

/** Places that each item of a question is dragged to. */
const DRAGS = [1, 7, 15] as const;
/** Most drags of one question, spread over its items. */
const MOST_DRAGGED = 8;

/**
 * Gaps after one frame while something is dragged: each of some items is put into another month, the search begins
 * from the plan before it, and is held against the plan that is proved with it there.
 */
function draggedGaps(question: PlanQuestion, { months: before, sets }: KnownPlan): number[] {
  const every = Math.max(1, Math.floor(question.items.length / MOST_DRAGGED));
  return question.items.flatMap((item, at) => {
    if (at % every !== 0 || item.pin !== null) return [];
    const pin = (before[at]! + DRAGS[at % DRAGS.length]!) % question.months;
    const dragged = {
      ...question,
      items: question.items.map((one, i) => (i === at ? { ...one, pin, deadline: null, notBefore: 0 } : one)),
    };
    const proved = planVisits(dragged, { left: within(PROOF_MS).left });
    // What is dragged where it does not fit has no plan; what is not proved has no gap.
    if (proved === null || !proved.proven) return [];
    const frame = searchPlan(dragged, { until: within(FRAME_MS).until, from: before, sets });
    return frame === null ? [] : [frame.cost / proved.cost - 1];
  });
}

/** Milliseconds that a visit's minutes take, with sixty jobs on a teardown of a hundred operations. */
function minutesOfSixty(): number {
  const operations = new Map(
    Array.from({ length: 100 }, (_, i) => [
      `op${i}`,
      { minutes: 5 + (i % 7), needs: i === 0 ? [] : [`op${Math.floor((i - 1) / 2)}`] },
    ]),
  );
  const work = Array.from({ length: 60 }, (_, i) => ({ operations: [`op${40 + i}`], own: 10 }));
  const rounds = 200;
  const began = performance.now();
  for (let round = 0; round < rounds; round += 1) workTogether(operations, work);
  return (performance.now() - began) / rounds;
}

const mean = (values: readonly number[]): number => values.reduce((sum, of) => sum + of, 0) / values.length;

/**
 * The planner beside a general solver on the same questions, in one run: the gap after one frame, the time until the
 * plan is proved, and what the solver takes. The plans' true best costs were proved by other programs.
 */
export async function plannerBench(say: (line: string) => void): Promise<void> {
  const { cases } = JSON.parse(readFileSync(new URL('../core/vectors/planner.json', import.meta.url), 'utf8')) as {
    readonly cases: readonly Case[];
  };
  // Compiled before anything is timed.
  searchPlan(questionOf(cases[0]!.in), within(300));
  const gaps: number[] = [];
  const proofs: number[] = [];
  const drags: number[] = [];
  for (const { in: told, out } of cases) {
    const question = questionOf(told);
    const frame = searchPlan(question, within(FRAME_MS))!;
    const gap = frame.cost / out.optimal_cost - 1;
    gaps.push(gap);
    const began = performance.now();
    const plan = planVisits(question, within(PROOF_MS))!;
    const took = performance.now() - began;
    if (plan.proven) proofs.push(took);
    if (!planStanding(question, plan.months).feasible) throw new Error('the plan does not fit');
    drags.push(...draggedGaps(question, plan));
    const solverBegan = performance.now();
    const { cost, status } = solved(await highs(), told);
    const solver = performance.now() - solverBegan;
    say(
      `${String(told.items.length).padStart(2)} jobs x ${String(told.T).padStart(2)} months: ${FRAME_MS} ms ${(100 * gap).toFixed(2)} % off; ` +
        `${plan.proven ? 'proved' : 'not proved'} in ${took.toFixed(0)} ms at ${plan.cost.toFixed(2)} (best ${out.optimal_cost.toFixed(2)}); ` +
        `general solver ${status}, ${cost === null ? 'no plan' : cost.toFixed(2)}, ${solver.toFixed(0)} ms`,
    );
  }
  proofs.sort((a, b) => a - b);
  const percent = (part: number): string => `${(100 * part).toFixed(2)} %`;
  say(
    `from nothing after ${FRAME_MS} ms: mean gap ${percent(mean(gaps))}, worst ${percent(Math.max(...gaps))}; ` +
      `proved ${proofs.length} of ${cases.length}, median ${proofs[Math.floor(proofs.length / 2)]?.toFixed(0) ?? '-'} ms`,
  );
  say(
    `while dragging, ${drags.length} drags answered in ${FRAME_MS} ms each: mean gap ${percent(mean(drags))}, ` +
      `worst ${percent(Math.max(...drags))}`,
  );
  say(`minutes of a visit with 60 jobs: ${minutesOfSixty().toFixed(3)} ms`);
}
