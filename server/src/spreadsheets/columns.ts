import { INTAKE_COLUMNS, INTAKE_KINDS, type IntakeKind } from '@crosspeen/contract';

/** What people call the columns. */
const NAMES: Readonly<Record<string, readonly string[]>> = {
  plate: ['plate', 'registration', 'reg', 'licenceplate', 'licenseplate', 'numberplate', 'regno'],
  name: ['name', 'vehiclename', 'calledby', 'nickname'],
  vehicle: ['plate', 'vehicle', 'registration', 'reg', 'licenceplate', 'licenseplate', 'numberplate', 'regno', 'name'],
  engine: ['engine', 'enginecode', 'code', 'motor'],
  model: ['model', 'type'],
  variant: ['variant'],
  firstRegistered: ['firstregistered', 'firstregistration', 'registered', 'inservice', 'built', 'year'],
  unit: ['unit', 'odometerunit', 'meterunit'],
  reading: ['reading', 'odometer', 'mileage', 'km', 'miles', 'kilometres', 'kilometers', 'hours', 'meter', 'odo'],
  readingDate: ['readingdate', 'readon', 'dateofreading', 'odometerdate'],
  market: ['market', 'soldin', 'region'],
  serial: ['serial', 'engineserial', 'engineno', 'enginenumber'],
  contact: ['contact', 'phone', 'telephone', 'tel', 'mobile', 'keeper', 'customer', 'owner'],
  note: ['note', 'notes', 'remark', 'remarks', 'comment'],
  date: ['date', 'day', 'on', 'when', 'servicedate'],
  component: ['component', 'job', 'work', 'item', 'renewed', 'service'],
  certainty: ['certainty', 'sure', 'known', 'howsure'],
  grade: ['grade', 'quality'],
  partNumber: ['partnumber', 'part', 'partno'],
  revision: ['revision', 'rev'],
  source: ['source', 'knownfrom', 'by'],
  cameOut: ['cameout', 'oldpart', 'condition'],
  weakPoint: ['weakpoint', 'finding', 'component', 'what', 'item'],
  task: ['task', 'upkeep', 'maintenance', 'service', 'job', 'work', 'what'],
  result: ['result', 'found', 'state', 'condition'],
  broughtIn: ['broughtin', 'camebecause', 'towed'],
};

const bare = (header: string): string => header.toLowerCase().replace(/[^a-z]/g, '');
/** A header without what says its unit or its form: “Reading (km)”, “Odometer km”, “Plate no.”. */
const withoutUnit = (header: string): string =>
  header
    .toLowerCase()
    .replace(/[([,:].*$/, '')
    .replace(/[\s._-]+(km|kms|mi|miles|h|hrs|hours|no|nr|number|date)\.?$/, '');

/** Which column of the file each understood column is, by its header; each column of the file is taken once. */
export function guessMapping(kind: IntakeKind, headers: readonly string[]): Record<string, number> {
  const mapping: Record<string, number> = {};
  const taken = new Set<number>();
  // First those called exactly so, then those that are so but for their unit ("reading (km)"). A header that only
  // begins so says something else.
  for (const called of [bare, (header: string) => bare(withoutUnit(header))]) {
    for (const column of Object.keys(INTAKE_COLUMNS[kind])) {
      if (mapping[column] !== undefined) continue;
      const at = (NAMES[column] ?? [])
        .flatMap((name) => headers.map((header, i) => ({ header: called(header), i, name })))
        .find(({ header, i, name }) => !taken.has(i) && header === name);
      if (at === undefined) continue;
      mapping[column] = at.i;
      taken.add(at.i);
    }
  }
  return mapping;
}

/** What a file holds, from its headers: the kind of whose columns most are there, all that it needs among them. */
export function guessKind(headers: readonly string[]): IntakeKind {
  const score = (kind: IntakeKind): number => {
    const mapping = guessMapping(kind, headers);
    const needed = Object.entries(INTAKE_COLUMNS[kind])
      .filter(([, must]) => must)
      .map(([column]) => column);
    return (needed.every((column) => mapping[column] !== undefined) ? 100 : 0) + Object.keys(mapping).length;
  };
  return [...INTAKE_KINDS].sort((a, b) => score(b) - score(a))[0]!;
}

/** Unit that the header of the reading names. */
export const unitOfHeader = (header: string | undefined): 'km' | 'mi' | 'h' | null => {
  const said = (header ?? '').toLowerCase();
  return /\b(mi|miles|mls)\b/.test(said)
    ? 'mi'
    : /\b(km|kms|kilomet)/.test(said)
      ? 'km'
      : /\b(h|hrs|hours)\b/.test(said)
        ? 'h'
        : null;
};

/** What begins like a formula and is none: a figure, or a telephone number of digits, spaces and brackets. */
const PLAIN = /^(-?\d+([.,]\d+)?|\+\d[\d ()/.]*)$/;
/**
 * Text for a cell of a CSV that a spreadsheet will not run as a formula: what begins like one is led by an apostrophe.
 */
export const harmless = (value: string): string =>
  /^[=+\-@\t\r]/.test(value) && !PLAIN.test(value) ? `'${value}` : value;
/** A cell as it was meant: an apostrophe that keeps a formula harmless is not part of it. */
export const unquoted = (cell: string): string => (/^'[=+\-@\t\r]/.test(cell) ? cell.slice(1) : cell);
