import type { Pack, PackInput } from '@crosspeen/contract';
import type { ComponentClass, FittedTo, Grade, Group } from '@crosspeen/core';
import { asColumns, entity, integer, nullable, text, uuid, uuidKey } from '../platform/entity.ts';

/** A component of engines; `grp` is the group it is listed in. */
export interface ComponentRow {
  id: string;
  key: string;
  name: string;
  class: ComponentClass;
  grp: Group;
  fittedTo: FittedTo;
  packKey: string | null;
}

export const ComponentEntity = entity<ComponentRow>('component', {
  id: uuidKey,
  key: text,
  name: text,
  class: text,
  grp: text,
  fittedTo: text,
  packKey: nullable(text),
});

/** A part that is sold for a component; its price in minor units. */
export interface PartRow {
  id: string;
  componentId: string;
  number: string;
  name: string;
  grade: Grade;
  revision: string | null;
  howToTell: string | null;
  supersedes: string | null;
  priceMinor: number | null;
  packKey: string | null;
}

export const PartEntity = entity<PartRow>('part', {
  id: uuidKey,
  componentId: uuid,
  number: text,
  name: text,
  grade: text,
  revision: nullable(text),
  howToTell: nullable(text),
  supersedes: nullable(text),
  priceMinor: nullable(integer),
  packKey: nullable(text),
});

type PackComponent = Pack['components'][number];
type PackPart = PackComponent['parts'][number];

/** A component of a pack, as columns. */
export const componentColumns = (
  { key, name, class: kind, group, fittedTo }: Omit<PackComponent, 'parts'>,
  packKey: string | null,
): Record<string, unknown> => asColumns(ComponentEntity, { key, name, class: kind, grp: group, fittedTo, packKey });

/** A part of a pack, as columns. */
export const partColumns = (part: PackPart, componentId: string, packKey: string): Record<string, unknown> =>
  asColumns(PartEntity, {
    componentId,
    number: part.number,
    name: part.name,
    grade: part.grade,
    revision: part.revision ?? null,
    howToTell: part.howToTell ?? null,
    supersedes: part.supersedes ?? null,
    priceMinor: part.priceMinor ?? null,
    packKey,
  });

/** A component with its parts, as a pack has it. */
export const componentToPack = (
  { key, name, class: kind, grp, fittedTo }: ComponentRow,
  parts: readonly PartRow[],
): PackInput['components'][number] => ({
  key,
  name,
  class: kind,
  group: grp,
  fittedTo,
  parts: parts.map(({ number, name: of, grade, revision, howToTell, supersedes, priceMinor }) => ({
    number,
    name: of,
    grade,
    ...(revision === null ? {} : { revision }),
    ...(howToTell === null ? {} : { howToTell }),
    ...(supersedes === null ? {} : { supersedes }),
    ...(priceMinor === null ? {} : { priceMinor }),
  })),
});
