import fc from 'fast-check';
import { susceptibleGivenAlive } from '../life/hazard.ts';
import { asTold, conditionalRisk, hazardSinceInstall, type ClockLife, type Inspection } from '../life/risk.ts';
import { ageClock, distanceClock } from '../usage/clock.ts';
import { usagePath } from '../usage/path.ts';
import { failedBy } from './mixture.ts';

const TODAY = 20_000;

interface Part {
  readonly km: number;
  readonly years: number;
  readonly scaleKm: number;
  readonly shapeKm: number;
  readonly scaleYears: number;
  readonly shapeYears: number;
  readonly share: number;
  readonly duty: number;
  readonly installedAt: number;
  readonly stepDays: number;
  readonly looks: readonly { readonly at: number; readonly worn: boolean; readonly warnsKm: number }[];
}

const between = (min: number, max: number): fc.Arbitrary<number> => fc.double({ min, max, noNaN: true });
const parts = fc.record<Part>({
  km: between(5000, 400_000),
  years: between(1, 25),
  scaleKm: between(60_000, 400_000),
  shapeKm: between(1, 6),
  scaleYears: between(5, 40),
  shapeYears: between(1, 6),
  share: between(0.02, 1),
  duty: between(0.5, 2),
  installedAt: between(0, 0.95),
  stepDays: between(30, 900),
  looks: fc.array(fc.record({ at: between(0.01, 0.99), worn: fc.boolean(), warnsKm: between(2000, 60_000) }), {
    maxLength: 3,
  }),
});

test('one part and one life: the sums that answer a vehicle are those of the kernel that the vectors hold', () => {
  fc.assert(
    fc.property(parts, (part) => {
      const startDay = TODAY - part.years * 365.25;
      const path = usagePath([{ day: TODAY, km: part.km }], startDay, 41);
      const clocks: ClockLife[] = [
        { clock: distanceClock(path), duty: part.duty, scale: part.scaleKm, shape: part.shapeKm },
        { clock: ageClock, duty: 1, scale: part.scaleYears * 365.25, shape: part.shapeYears },
      ];
      const installDay = startDay + part.installedAt * (TODAY - startDay);
      const inspections: Inspection[] = part.looks.map(({ at, worn, warnsKm }) => ({
        day: installDay + at * (TODAY - installDay),
        detection: 0.8,
        falseAlarm: 0.03,
        worn,
        warning: [{ clock: clocks[0]!.clock, length: warnsKm }],
      }));
      const life = asTold(clocks);
      const alive = susceptibleGivenAlive(part.share, hazardSinceInstall(life, installDay, TODAY));
      const kernel = conditionalRisk({
        life,
        share: part.share,
        installDay,
        nowDay: TODAY,
        stepDays: part.stepDays,
        inspections,
      });
      const answer = failedBy(
        {
          clocks,
          lives: [{ power: 1, factor: 1, share: part.share }],
          apart: false,
          installDays: Float64Array.of(installDay),
          susceptible: Float64Array.of(alive),
          immune: Float64Array.of(1 - alive),
        },
        inspections,
        TODAY,
        [TODAY + part.stepDays],
      );
      expect(answer.by[0]).toBeCloseTo(kernel.risk, 9);
      expect(answer.susceptible).toBeCloseTo(kernel.susceptibleGivenLooks, 9);
    }),
    { numRuns: 400 },
  );
});
