import type { MigrationInterface, QueryRunner } from 'typeorm';

const CLASSES = ['rubber', 'plastic', 'chain', 'bearing', 'gasket', 'electronics', 'sensor', 'early'];

const setClasses = (runner: QueryRunner, classes: readonly string[]): Promise<void> =>
  runner.query(
    `alter table component drop constraint component_class_check,
      add constraint component_class_check check (class in (${classes.map((each) => `'${each}'`).join(', ')}))`,
  ) as Promise<void>;

/** Parts of metal, as coolers and pipes, are a class of their own. */
export class Metal1766600000000 implements MigrationInterface {
  name = 'Metal1766600000000';

  up(runner: QueryRunner): Promise<void> {
    return setClasses(runner, [...CLASSES, 'metal']);
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query("update component set class = 'bearing' where class = 'metal'");
    await setClasses(runner, CLASSES);
  }
}
