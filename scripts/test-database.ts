import pg from 'pg';

export interface TestDatabase {
  readonly url: string;
  /** Takes it away again, whoever is still in it. */
  readonly drop: () => Promise<void>;
}

/**
 * An empty database of a test's own, on the throwaway PostgreSQL that the tests are started with. Throws where there is
 * none.
 */
export async function testDatabase(name: string): Promise<TestDatabase> {
  const admin = process.env['CROSSPEEN_TEST_PG'];
  if (!admin)
    throw new Error(
      'CROSSPEEN_TEST_PG is not set: run the tests with ./crosspeen test, which starts a throwaway PostgreSQL',
    );
  const database = `${name}_${process.pid}`;
  const control = new pg.Client({ connectionString: admin });
  await control.connect();
  await control.query(`create database ${database}`);
  return {
    url: Object.assign(new URL(admin), { pathname: `/${database}` }).href,
    drop: async () => {
      await control.query(`drop database if exists ${database} with (force)`);
      await control.end();
    },
  };
}
