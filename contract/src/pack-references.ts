import { compactKey } from '@crosspeen/core';
import { type z } from 'zod';
import { inOrder } from './common.ts';
import { type PackFamily, type PackNotice } from './pack-family.ts';
import { type packComponent } from './pack-shelf.ts';

type Keyed = { readonly key: string };
type Path = (string | number)[];

/** The lists of a pack whose entries refer to each other by key. */
export type PackLists = {
  readonly makers: readonly Keyed[];
  readonly authorities: readonly Keyed[];
  readonly components: readonly z.output<typeof packComponent>[];
  readonly tools: readonly Keyed[];
  readonly cautions: readonly Keyed[];
  readonly symptoms: readonly Keyed[];
  readonly families: readonly PackFamily[];
  readonly notices: readonly PackNotice[];
};

/** Collects the problems of one pack, and the keys that stand in its lists. */
class References {
  readonly makers: ReadonlySet<string>;
  readonly authorities: ReadonlySet<string>;
  readonly components: ReadonlySet<string>;
  readonly tools: ReadonlySet<string>;
  readonly cautions: ReadonlySet<string>;
  readonly symptoms: ReadonlySet<string>;
  /** Keys of weak points, operations and tasks met so far: each is unique in the whole pack. */
  readonly weakPoints = new Set<string>();
  readonly operations = new Set<string>();
  readonly tasks = new Set<string>();

  constructor(
    pack: PackLists,
    readonly context: z.core.$RefinementCtx,
  ) {
    this.makers = this.unique(pack.makers, 'makers');
    this.authorities = this.unique(pack.authorities, 'authorities');
    this.components = this.unique(pack.components, 'components');
    this.tools = this.unique(pack.tools, 'tools');
    this.cautions = this.unique(pack.cautions, 'cautions');
    this.symptoms = this.unique(pack.symptoms, 'symptoms');
    this.unique(pack.families, 'families');
  }

  complain(path: Path, message: string): void {
    this.context.addIssue({ code: 'custom', path, message });
  }

  /** Keys of a list; complains about a key that stands twice. */
  unique(list: readonly Keyed[], path: string): Set<string> {
    const seen = new Set<string>();
    list.forEach((entry, i) => {
      if (seen.has(entry.key)) this.complain([path, i, 'key'], `“${entry.key}” stands twice; keys must be unique`);
      seen.add(entry.key);
    });
    return seen;
  }

  /** Complains about each key that is not in the pack's list of that kind. */
  inPack(kind: 'component' | 'tool' | 'caution' | 'authority' | 'symptom', keys: readonly string[], at: Path): void {
    const known = {
      component: this.components,
      tool: this.tools,
      caution: this.cautions,
      authority: this.authorities,
      symptom: this.symptoms,
    }[kind];
    keys.forEach((key, n) => {
      if (!known.has(key)) this.complain([...at, n], `there is no ${kind} “${key}” in this pack`);
    });
  }

  /** Complains about a key of an entry that is not in the pack's list of that kind. */
  named(kind: 'component' | 'authority' | 'symptom', key: string, at: Path): void {
    const known = { component: this.components, authority: this.authorities, symptom: this.symptoms }[kind];
    if (!known.has(key)) this.complain(at, `there is no ${kind} “${key}” in this pack`);
  }
}

/** Tells whether an operation needs itself, directly or through the operations that it needs. */
function needsItself(start: string, needs: ReadonlyMap<string, readonly string[]>): boolean {
  const seen = new Set<string>();
  const open = [...(needs.get(start) ?? [])];
  for (let at = open.pop(); at !== undefined; at = open.pop()) {
    if (at === start) return true;
    if (seen.has(at)) continue;
    seen.add(at);
    open.push(...(needs.get(at) ?? []));
  }
  return false;
}

/** One engine code is one family; a part number belongs to one component. */
function checkShelf(found: References, pack: PackLists): void {
  const codes = new Map<string, string>();
  pack.families.forEach(({ key, code, maker }, f) => {
    const other = codes.get(compactKey(code));
    if (other !== undefined && other !== key)
      found.complain(
        ['families', f, 'code'],
        `“${code}” is the code of “${other}” too; one engine code is one family of ${maker}`,
      );
    codes.set(compactKey(code), key);
  });
  const numbers = new Set<string>();
  pack.components.forEach(({ parts }, c) =>
    parts.forEach(({ number }, i) => {
      if (numbers.has(number))
        found.complain(
          ['components', c, 'parts', i, 'number'],
          `part “${number}” stands twice; a part belongs to one component`,
        );
      numbers.add(number);
    }),
  );
}

/** Windows of production and serial numbers of a family's variants run forwards. */
function checkVariants({ context }: References, variants: PackFamily['variants'], family: Path): void {
  variants.forEach((variant, v) => {
    const at = [...family, 'variants', v];
    inOrder(
      { from: variant.producedFrom, to: variant.producedTo },
      [...at, 'producedTo'],
      context,
      'must not lie before producedFrom',
    );
    inOrder(
      { from: variant.serialFrom, to: variant.serialTo },
      [...at, 'serialTo'],
      context,
      'must not lie below serialFrom',
    );
    variant.models.forEach(({ from, to }, m) =>
      inOrder({ from, to }, [...at, 'models', m, 'to'], context, 'must not lie before from'),
    );
  });
}

/** Keys of one family, and how it complains about a key that the family does not have. */
type FamilyKeys = {
  readonly variants: ReadonlySet<string>;
  readonly features: ReadonlySet<string>;
  readonly operations: ReadonlySet<string>;
  readonly weakPoints: ReadonlySet<string>;
  readonly lacks: (kind: string, key: string, at: Path, mend?: string) => void;
};

/** An operation refers to operations of its family and to tools, cautions and components of the pack. */
function checkOperations(found: References, family: PackFamily, keys: FamilyKeys, familyAt: Path): void {
  const needs = new Map(family.operations.map((operation) => [operation.key, operation.needs]));
  family.operations.forEach((operation, o) => {
    const at = [...familyAt, 'operations', o];
    if (found.operations.has(operation.key))
      found.complain(
        [...at, 'key'],
        `“${operation.key}” stands in another family too; operation keys must be unique in the pack`,
      );
    found.operations.add(operation.key);
    operation.needs.forEach((need, n) => {
      if (!keys.operations.has(need)) keys.lacks('operation', need, [...at, 'needs', n]);
    });
    found.inPack('tool', operation.tools, [...at, 'tools']);
    found.inPack('caution', operation.cautions, [...at, 'cautions']);
    found.inPack('component', operation.renewWith, [...at, 'renewWith']);
    if (needsItself(operation.key, needs))
      found.complain([...at, 'needs'], `“${operation.key}” needs itself, through what it needs`);
  });
}

type PackPoint = PackFamily['weakPoints'][number];

/** Checks the variants, features and windows to which a weak point applies. */
function checkAppliesTo({ context }: References, { appliesTo }: PackPoint, keys: FamilyKeys, point: Path): void {
  const at = [...point, 'appliesTo'];
  inOrder(
    { from: appliesTo.producedFrom, to: appliesTo.producedTo },
    [...at, 'producedTo'],
    context,
    'must not lie before producedFrom',
  );
  inOrder(
    { from: appliesTo.serialFrom, to: appliesTo.serialTo },
    [...at, 'serialTo'],
    context,
    'must not lie below serialFrom',
  );
  for (const feature of Object.keys(appliesTo.features ?? {}))
    if (!keys.features.has(feature))
      keys.lacks('feature', feature, [...at, 'features', feature], '; list it under the family’s features');
  appliesTo.variants?.forEach((variant, v) => {
    if (!keys.variants.has(variant)) keys.lacks('variant', variant, [...at, 'variants', v]);
  });
}

/** A weak point refers to its component, operation, symptoms, neighbours, look and authorities. */
function checkWeakPoint(found: References, point: PackPoint, keys: FamilyKeys, at: Path): void {
  if (found.weakPoints.has(point.key))
    found.complain([...at, 'key'], `“${point.key}” stands twice; keys must be unique`);
  found.weakPoints.add(point.key);
  if (point.operation !== undefined && !keys.operations.has(point.operation))
    keys.lacks('operation', point.operation, [...at, 'operation']);
  checkAppliesTo(found, point, keys, at);
  point.symptoms.forEach(({ symptom }, n) => found.named('symptom', symptom, [...at, 'symptoms', n, 'symptom']));
  point.hastens.forEach(({ feature }, n) => {
    if (feature !== undefined && !keys.features.has(feature))
      keys.lacks('feature', feature, [...at, 'hastens', n, 'feature']);
  });
  point.damages.forEach(({ weakPoint }, n) => {
    if (weakPoint !== undefined && !keys.weakPoints.has(weakPoint))
      keys.lacks('weak point', weakPoint, [...at, 'damages', n, 'weakPoint']);
  });
  point.look?.off?.forEach((off, n) => {
    if (!keys.operations.has(off)) keys.lacks('operation', off, [...at, 'look', 'off', n]);
  });
  found.inPack('tool', point.look?.tools ?? [], [...at, 'look', 'tools']);
  found.inPack('caution', point.look?.cautions ?? [], [...at, 'look', 'cautions']);
  found.named('component', point.component, [...at, 'component']);
  point.statements.forEach((statement, s) => checkStatement(found, statement, [...at, 'statements', s]));
}

/** What allows no exception is an interval for a renewal that people go by. */
function checkStatement(found: References, statement: PackPoint['statements'][number], at: Path): void {
  const { authority, always, interval, asks, doubted, strength } = statement;
  found.named('authority', authority, [...at, 'authority']);
  if (always !== true) return;
  const refuse = (reason: string): void =>
    found.complain([...at, 'always'], `an interval without exception ${reason}; leave “always” out`);
  if (doubted === true) refuse('cannot be doubted');
  if (strength === 'hearsay') refuse('cannot rest on hearsay');
  if (interval === undefined) refuse('needs the interval');
  if (asks === 'look') refuse('asks for a renewal, not for a look');
}

/** A check refers to weak points and operations of its family and to cautions of the pack. */
function checkChecks(found: References, family: PackFamily, keys: FamilyKeys, familyAt: Path): void {
  found.unique(family.checks, familyAt.join('.') + '.checks');
  family.checks.forEach((check, c) => {
    const at = [...familyAt, 'checks', c];
    check.shows.forEach(({ weakPoint }, n) => {
      if (!keys.weakPoints.has(weakPoint)) keys.lacks('weak point', weakPoint, [...at, 'shows', n, 'weakPoint']);
    });
    check.off?.forEach((off, n) => {
      if (!keys.operations.has(off)) keys.lacks('operation', off, [...at, 'off', n]);
    });
    found.inPack('caution', check.cautions ?? [], [...at, 'cautions']);
    found.inPack('symptom', check.firstFor ?? [], [...at, 'firstFor']);
  });
}

/** A recurring task refers to weak points of its family and to cautions and authorities of the pack. */
function checkTasks(found: References, family: PackFamily, keys: FamilyKeys, familyAt: Path): void {
  family.upkeep.forEach((task, t) => {
    const at = [...familyAt, 'upkeep', t];
    if (found.tasks.has(task.key)) found.complain([...at, 'key'], `“${task.key}” stands twice; keys must be unique`);
    found.tasks.add(task.key);
    task.protects.forEach(({ weakPoint }, p) => {
      if (!keys.weakPoints.has(weakPoint)) keys.lacks('weak point', weakPoint, [...at, 'protects', p, 'weakPoint']);
    });
    found.inPack('caution', task.cautions, [...at, 'cautions']);
    task.statements.forEach(({ authority }, n) =>
      found.named('authority', authority, [...at, 'statements', n, 'authority']),
    );
  });
}

/** Everything that one family refers to. */
function checkFamily(found: References, family: PackFamily, f: number): void {
  const at = ['families', f];
  const keys: FamilyKeys = {
    variants: found.unique(family.variants, `families.${f}.variants`),
    features: found.unique(family.features, `families.${f}.features`),
    operations: found.unique(family.operations, `families.${f}.operations`),
    weakPoints: new Set(family.weakPoints.map(({ key }) => key)),
    lacks: (kind, key, path, mend = '') =>
      found.complain(path, `family “${family.key}” has no ${kind} “${key}”${mend}`),
  };
  checkVariants(found, family.variants, at);
  checkOperations(found, family, keys, at);
  if (!found.makers.has(family.maker))
    found.complain([...at, 'maker'], `there is no maker “${family.maker}” in this pack`);
  family.weakPoints.forEach((point, w) => checkWeakPoint(found, point, keys, [...at, 'weakPoints', w]));
  checkChecks(found, family, keys, at);
  checkTasks(found, family, keys, at);
}

/** A notice has a number of its own, refers to weak points of the pack, and a coverage says how long it pays. */
function checkNotice(found: References, notice: PackNotice, at: Path): void {
  inOrder(
    { from: notice.producedFrom, to: notice.producedTo },
    [...at, 'producedTo'],
    found.context,
    'must not lie before producedFrom',
  );
  found.named('authority', notice.authority, [...at, 'authority']);
  notice.weakPoints.forEach((point, w) => {
    if (!found.weakPoints.has(point))
      found.complain([...at, 'weakPoints', w], `there is no weak point “${point}” in this pack`);
  });
  if ((notice.kind === 'coverage') !== (notice.covers !== undefined || notice.endsOn !== undefined))
    found.complain(
      [...at, 'kind'],
      notice.kind === 'coverage'
        ? 'a coverage says how long it pays: covers or endsOn'
        : 'a bulletin pays for nothing; leave covers and endsOn out',
    );
}

/**
 * Checks that every key that a pack refers to stands in the pack, that keys are unique, and that windows run forwards.
 * Adds one issue, with its path, for each fault.
 */
export function checkReferences(pack: PackLists, context: z.core.$RefinementCtx): void {
  const found = new References(pack, context);
  checkShelf(found, pack);
  pack.families.forEach((family, f) => checkFamily(found, family, f));
  found.unique(pack.notices, 'notices');
  const numbers = new Set<string>();
  pack.notices.forEach((notice, n) => {
    const number = `${notice.authority} ${notice.number.toLowerCase()}`;
    if (numbers.has(number))
      found.complain(
        ['notices', n, 'number'],
        `“${notice.number}” stands twice from the same authority; it is one notice`,
      );
    numbers.add(number);
    checkNotice(found, notice, ['notices', n]);
  });
}
