import { call } from '../../api/client.ts';
import { endpoints, type Vehicle, type VehicleUpdate } from '@crosspeen/contract';
import type { VehicleOutlook } from '../../api/answer.ts';
import { useState, type ReactNode } from 'react';
import { useChange } from '../../api/changing.tsx';
import { Dialog } from '../../ui/dialog.tsx';
import { Conflict, isConflict } from '../../ui/problem.tsx';
import { VehicleForm } from '../../parts/vehicle/vehicle-form.tsx';
import { VEHICLE_LABELS, vehicleFields, type VehicleValues } from '../../parts/vehicle/vehicle-values.ts';

function EditForm({
  opened,
  features,
  initial,
  today,
  save,
  send,
  sent,
  onClose,
}: {
  opened: Vehicle;
  features: VehicleOutlook['features'];
  initial: VehicleValues;
  today: number;
  save: { readonly error: Error | null; readonly isPending: boolean };
  send: (body: VehicleUpdate) => void;
  sent: VehicleUpdate | null;
  onClose: () => void;
}): ReactNode {
  return (
    <VehicleForm
      familyId={opened.familyId}
      features={features}
      initial={initial}
      today={today}
      error={isConflict(save.error) ? null : save.error}
      pending={save.isPending}
      submit="Save"
      onSubmit={(values) =>
        send({
          ...vehicleFields(values, opened.familyId, today, { fitted: opened.fitted, duty: opened.duty }),
          version: opened.version,
        })
      }
    >
      {sent && (
        <Conflict
          error={save.error}
          mine={sent}
          labels={VEHICLE_LABELS}
          onTheirs={onClose}
          onMine={(version) => send({ ...sent, version })}
        />
      )}
    </VehicleForm>
  );
}

/** Corrects a vehicle. If somebody else was quicker, both sides are shown and nothing is overwritten unasked. */
export default function EditDialog({
  vehicle,
  features,
  today,
  onClose,
}: {
  vehicle: Vehicle;
  features: VehicleOutlook['features'];
  today: number;
  onClose: () => void;
}): ReactNode {
  // The version that was opened: a refetch behind the sheet must not slip a newer one under what is being typed.
  const [opened] = useState(vehicle);
  const [sent, setSent] = useState<VehicleUpdate | null>(null);
  const save = useChange((body: VehicleUpdate, key) =>
    call(endpoints.vehicles.update, { params: { id: vehicle.id }, body, key }),
  );
  const send = (body: VehicleUpdate): void => {
    setSent(body);
    save.mutate(body, { onSuccess: onClose });
  };
  const initial: VehicleValues = {
    plate: opened.plate ?? '',
    name: opened.name ?? '',
    model: opened.model ?? '',
    variantKey: opened.variantKey ?? '',
    registered: opened.firstRegistered ?? '',
    firstSeen: opened.firstSeen ?? '',
    market: opened.market ?? '',
    serial: opened.serial === null ? '' : String(opened.serial),
    features: Object.fromEntries(
      Object.entries(opened.features).map(([key, has]) => [key, has ? ('yes' as const) : ('no' as const)]),
    ),
    odometerUnit: opened.odometerUnit,
    severity: `x${opened.severity}`,
    contact: opened.contact ?? '',
    note: opened.note ?? '',
  };
  return (
    <Dialog
      open
      onClose={onClose}
      title="Edit the vehicle"
      description={`${opened.engine.maker} ${opened.engine.code}`}
      wide
    >
      <EditForm
        opened={opened}
        features={features}
        initial={initial}
        today={today}
        save={save}
        send={send}
        sent={sent}
        onClose={onClose}
      />
    </Dialog>
  );
}
