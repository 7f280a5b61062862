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

/** A property's name as its column's. */
export const snake = (name: string): string => name.replace(/[A-Z]/g, (letter) => `_${letter.toLowerCase()}`);

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

const columnName = <Row extends object>(schema: EntitySchema<Row>, property: string): string =>
  (schema.options.columns as Record<string, EntitySchemaColumnOptions>)[property]!.name!;

/** SQL: columns of `alias`, each under its property's name; all of the entity's where none is named. */
export const columnsOf = <Row extends object>(
  schema: EntitySchema<Row>,
  alias: string,
  properties: readonly (keyof Row & string)[] = Object.keys(schema.options.columns) as (keyof Row & string)[],
): string =>
  properties
    .map((property) => {
      const name = columnName(schema, property);
      return name === property ? `${alias}."${name}"` : `${alias}."${name}" as "${property}"`;
    })
    .join(', ');

/** SQL: arguments of jsonb_build_object for columns of `alias`, each under its property's name. */
export const jsonOf = <Row extends object>(
  schema: EntitySchema<Row>,
  alias: string,
  properties: readonly (keyof Row & string)[],
): string => properties.map((property) => `'${property}', ${alias}."${columnName(schema, property)}"`).join(', ');

/** Properties of a row by the names of their columns. */
export const asColumns = <Row extends object>(schema: EntitySchema<Row>, row: Partial<Row>): Record<string, unknown> =>
  Object.fromEntries(Object.entries(row).map(([property, value]) => [columnName(schema, property), value]));
