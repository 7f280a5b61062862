import type { MigrationInterface, QueryRunner } from 'typeorm';

const KINDS = [
  'set_up',
  'added',
  'renamed',
  'role',
  'deactivated',
  'reactivated',
  'link_made',
  'link_ended',
  'password_set',
  'password_changed',
  'pin_set',
  'pin_removed',
  'signed_out',
  'tablet_added',
  'tablet_ended',
];
const kindsCheck = (kinds: readonly string[]): string =>
  `alter table people_change drop constraint people_change_kind_check,
    add constraint people_change_kind_check check (kind in (${kinds.map((kind) => `'${kind}'`).join(', ')}))`;

/**
 * A bay tablet proves by a key that it is the browser it was made on, and is locked by wrong PINs. Tablets without a
 * key are put away: each is made one again on its own browser.
 */
export class TabletKeys1766300000000 implements MigrationInterface {
  name = 'TabletKeys1766300000000';

  async up(runner: QueryRunner): Promise<void> {
    await runner.query(
      `alter table bay_tablet
        add column public_key text,
        add column challenge text,
        add column challenge_at timestamptz,
        add column wrong_pins jsonb not null default '{}'`,
    );
    await runner.query('update bay_tablet set ended_at = now() where ended_at is null');
    await runner.query('delete from session where tablet_id is not null');
    await runner.query(kindsCheck([...KINDS, 'tablet_locked', 'tablet_opened']));
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query("delete from people_change where kind in ('tablet_locked', 'tablet_opened')");
    await runner.query(kindsCheck(KINDS));
    await runner.query(
      `alter table bay_tablet
        drop column public_key, drop column challenge, drop column challenge_at, drop column wrong_pins`,
    );
  }
}
