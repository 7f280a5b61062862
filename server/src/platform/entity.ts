import { EntitySchema, type EntitySchemaColumnOptions } from 'typeorm';

type Columns<Row> = { [Property in keyof Row]-?: EntitySchemaColumnOptions };

/** A nullable column. */
export const nullable = (options: EntitySchemaColumnOptions): EntitySchemaColumnOptions => ({
  ...options,
  nullable: true,
});

export const uuidKey: EntitySchemaColumnOptions = { type: 'uuid', primary: true, generated: 'uuid' };
export const text: EntitySchemaColumnOptions = { type: 'text' };
export const uuid: EntitySchemaColumnOptions = { type: 'uuid' };
export const day: EntitySchemaColumnOptions = { type: 'date' };
export const float: EntitySchemaColumnOptions = { type: 'double precision' };
export const integer: EntitySchemaColumnOptions = { type: 'integer' };
export const flag: EntitySchemaColumnOptions = { type: 'boolean' };
export const json: EntitySchemaColumnOptions = { type: 'jsonb' };
export const instant: EntitySchemaColumnOptions = { type: 'timestamptz' };
/** Set by the database when the row is written. */
export const writtenAt: EntitySchemaColumnOptions = { type: 'timestamptz', insert: false, update: false };

const snake = (name: string): string => name.replace(/[A-Z]/g, (letter) => `_${letter.toLowerCase()}`);

/** An entity whose columns are the property names in snake case. */
export function entity<Row extends object>(table: string, columns: Columns<Row>): EntitySchema<Row> {
  const named = Object.fromEntries(
    Object.entries<EntitySchemaColumnOptions>(columns).map(([property, options]) => [
      property,
      { name: snake(property), ...options },
    ]),
  );
  return new EntitySchema<Row>({ name: table, tableName: table, columns: named as Columns<Row> });
}
