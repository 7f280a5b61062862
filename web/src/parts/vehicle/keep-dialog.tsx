import type { Changed } from '@crosspeen/contract';
import type { Sending } from '../../api/sending.ts';
import { call } from '../../api/client.ts';
import { endpoints, knownPairs, type EngineSummary, type VehicleCreate } from '@crosspeen/contract';
import type { Answer } from '../../api/answer.ts';
import { ANOTHER, isoFromDay, OLDER, type DistanceUnit } from '@crosspeen/core';
import type { ReactNode } from 'react';
import { useChange } from '../../api/changing.tsx';
import { Dialog } from '../../ui/dialog.tsx';
import { distanceText } from '../../ui/units.ts';
import { VehicleForm } from './vehicle-form.tsx';
import { vehicleFields, type Unshown } from './vehicle-values.ts';
import type { KnownPair } from '../../../../contract/src/know.ts';

function KeepForm({
  engine,
  answer,
  keep,
  said,
  ofKind,
  certain,
  unit,
  unshown,
  settled,
  onKept,
}: {
  engine: EngineSummary;
  answer: Answer;
  keep: Sending<VehicleCreate, Changed>;
  said: (about: string) => string;
  ofKind: (kind: string) => [string, string][];
  certain: string;
  unit: DistanceUnit;
  unshown: Unshown;
  settled: KnownPair[];
  onKept: (id: string) => void;
}): ReactNode {
  return (
    <VehicleForm
      familyId={engine.familyId}
      today={answer.today}
      error={keep.error}
      pending={keep.isPending}
      submit="Save the vehicle"
      initial={{
        plate: '',
        name: '',
        model: said('model') === ANOTHER ? '' : said('model'),
        firstSeen: '',
        market: said('market'),
        serial: '',
        features: Object.fromEntries(
          ofKind('feature').map(([key, value]) => [key, value === 'yes' ? ('yes' as const) : ('no' as const)]),
        ),
        variantKey: certain,
        registered: answer.usage.startAssumed ? '' : isoFromDay(answer.usage.startDay),
        odometerUnit: unit,
        severity: `x${answer.severity}`,
        contact: '',
        note: '',
      }}
      onSubmit={(values) =>
        keep.mutate(
          {
            ...vehicleFields(values, engine.familyId, answer.today, unshown),
            reading: { day: isoFromDay(answer.today), km: answer.now.km },
            history: settled.filter(({ about }) => about.startsWith('history:')),
          },
          { onSuccess: (done) => onKept(done.id) },
        )
      }
    />
  );
}

/** Puts the engine that was looked up on file as a vehicle, with today's reading. */
export default function KeepDialog({
  answer,
  unit,
  chosenVariant,
  know,
  onClose,
  onKept,
}: {
  answer: Answer;
  unit: DistanceUnit;
  chosenVariant: string | null;
  know: string;
  onClose: () => void;
  onKept: (id: string) => void;
}): ReactNode {
  const keep = useChange((body: VehicleCreate, key) => call(endpoints.vehicles.create, { body, key }));
  const { engine } = answer;
  const certain = answer.variants.length === 1 ? answer.variants[0]!.key : (chosenVariant ?? '');
  // What the questions settled goes on file with it.
  const settled = knownPairs(know);
  const said = (about: string): string => settled.find((pair) => pair.about === about)?.answer ?? '';
  const ofKind = (kind: string): [string, string][] =>
    settled
      .filter(({ about }) => about.startsWith(`${kind}:`))
      .map(({ about, answer: value }) => [about.slice(kind.length + 1), value]);
  const unshown = {
    duty: {},
    fitted: Object.fromEntries(ofKind('fitted').map(([key, value]) => [key, value === OLDER ? '' : value])),
  };
  return (
    <Dialog
      open
      onClose={onClose}
      title="Save as a vehicle"
      description={`${engine.maker} ${engine.code}, ${distanceText(answer.now.km, unit)} today`}
      wide
    >
      <KeepForm
        engine={engine}
        answer={answer}
        keep={keep}
        said={said}
        ofKind={ofKind}
        certain={certain}
        unit={unit}
        unshown={unshown}
        settled={settled}
        onKept={onKept}
      />
    </Dialog>
  );
}
