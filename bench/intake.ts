import { signedIn, type ApiBench, type SignedIn } from './api.ts';
import { residentMemory } from './processor.ts';

const RECORDS = 100_000;
const VEHICLES = 5000;

interface Run {
  readonly id: string;
  readonly state: string;
  readonly rows: number;
  readonly written: number;
  readonly known: number;
  readonly bad: number;
}

/**
 * A hundred thousand service records through the HTTP door, beside the same rows inserted by bare SQL; then once more,
 * when all of them are known.
 */
export async function intakeBench(bench: ApiBench & { readonly pid: number }): Promise<void> {
  const { address, say, pid } = bench;
  let peak = 0;
  const watch = setInterval(() => {
    peak = Math.max(peak, residentMemory(pid));
  }, 100);
  const takeIn = async ({ headers }: SignedIn, csv: string, kind: string): Promise<{ run: Run; seconds: number }> => {
    const began = performance.now();
    const held = (await (
      await fetch(`${address}/api/intake?name=bench.csv&kind=${kind}`, {
        method: 'POST',
        headers: { ...headers, 'content-type': 'text/csv' },
        body: csv,
      })
    ).json()) as { fileId: string; mapping: object; formats: object };
    await fetch(`${address}/api/intake/${held.fileId}/start`, {
      method: 'POST',
      headers: { ...headers, 'content-type': 'application/json' },
      body: JSON.stringify({ kind, mapping: held.mapping, formats: held.formats }),
    });
    for (;;) {
      const run = (await (await fetch(`${address}/api/intake/${held.fileId}`, { headers })).json()) as Run;
      if (run.state !== 'running') return { run, seconds: (performance.now() - began) / 1000 };
      await new Promise((resolve) => {
        setTimeout(resolve, 200);
      });
    }
  };
  await signedIn(bench, async (session) => {
    const cars = [
      'Plate,Engine code,First registered',
      ...Array.from({ length: VEHICLES }, (_, i) => `BI ${i},QV20T,2013-${String(1 + (i % 12)).padStart(2, '0')}-10`),
    ].join('\n');
    const vehicles = await takeIn(session, cars, 'vehicles');
    say(`${VEHICLES.toLocaleString('en')} vehicles imported           ${vehicles.seconds.toFixed(1)} s`);
    const parts = ['Chain tensioner', 'Thermostat housing', 'Water pump', 'Ignition coils'];
    const csv = [
      'Plate,Component,Date,Km,Part no',
      ...Array.from(
        { length: RECORDS },
        (_, i) =>
          `BI ${(i * 7919) % VEHICLES},${parts[i % 4]!},${2014 + (i % 12)}-${String(1 + (i % 9)).padStart(2, '0')}-${String(1 + (Math.floor(i / 5000) % 28)).padStart(2, '0')},${20_000 + i},N ${i}`,
      ),
    ].join('\n');
    peak = residentMemory(pid);
    const before = peak;
    const services = await takeIn(session, csv, 'services');
    say(
      `${RECORDS.toLocaleString('en')} service records imported   ${services.seconds.toFixed(1)} s, ${services.run.written.toLocaleString('en')} written, ${services.run.bad} to mend; memory ${before.toFixed(0)} MB before, ${peak.toFixed(0)} MB at most`,
    );
    const again = await takeIn(session, csv, 'services');
    say(
      `the same file again             ${again.seconds.toFixed(1)} s, ${again.run.written} written, ${again.run.known.toLocaleString('en')} known`,
    );
    const began = performance.now();
    await session.client.query('create temporary table bare (like service_record including all)');
    await session.client.query('insert into bare select * from service_record');
    const bare = (performance.now() - began) / 1000;
    say(`the same rows copied by SQL     ${bare.toFixed(1)} s; ratio ${(services.seconds / bare).toFixed(1)}`);
  }).finally(() => {
    clearInterval(watch);
  });
}
