import type { BodyOf, Caution, DateFormat, endpoints, NumberFormat } from '@crosspeen/contract';
import { numberTyped } from '../../ui/formats.ts';

/** What is typed on the first page. */
export interface Values {
  code: string;
  workshopName: string;
  currency: string;
  labourRate: string;
  taxPercent: string;
  distanceUnit: 'km' | 'mi';
  timeZone: string;
  firstWeekday: string;
  numberFormat: NumberFormat;
  dateFormat: DateFormat;
  caution: Caution;
  name: string;
  displayName: string;
  password: string;
}

export const usualValues = (timeZone: string): Values => ({
  code: '',
  workshopName: '',
  currency: 'EUR',
  labourRate: '',
  taxPercent: '',
  distanceUnit: 'km',
  timeZone,
  firstWeekday: '1',
  numberFormat: 'en-GB',
  dateFormat: 'en-GB',
  caution: 'usual',
  name: '',
  displayName: '',
  password: '',
});

/** What is typed as the server takes it, and what in it is no number. */
export function readSetUp(values: Values): {
  readonly body: BodyOf<typeof endpoints.session.setUp>;
  readonly faults: readonly { readonly path: string; readonly message: string }[];
} {
  const [labour, tax] = [numberTyped(values.labourRate), numberTyped(values.taxPercent)];
  const faults = [
    ...(Number.isNaN(labour) ? [{ path: 'shop.labourRateMinor', message: 'must be a number, such as 96' }] : []),
    ...(Number.isNaN(tax)
      ? [{ path: 'shop.taxRate', message: 'must be a number, such as 20; 0 where there is none' }]
      : []),
  ];
  return {
    faults,
    body: {
      code: values.code,
      shop: {
        workshopName: values.workshopName,
        currency: values.currency.trim().toUpperCase(),
        labourRateMinor: Math.round((Number.isNaN(labour) ? 0 : labour) * 100),
        taxRate: (Number.isNaN(tax) ? 0 : tax) / 100,
        distanceUnit: values.distanceUnit,
        timeZone: values.timeZone,
        firstWeekday: Number(values.firstWeekday),
        numberFormat: values.numberFormat,
        dateFormat: values.dateFormat,
        caution: values.caution,
      },
      owner: { name: values.name, displayName: values.displayName, password: values.password },
    },
  };
}
