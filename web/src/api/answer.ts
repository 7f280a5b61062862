import {
  answerRows,
  type Answer as WireAnswer,
  type AnswerRow,
  type LookupAnswer as WireLookupAnswer,
  type VehicleOutlook as WireOutlook,
} from '@crosspeen/contract';

/** An answer as the screens read it: each judgement put together with its weak point, once. */
export type Answer = Omit<WireAnswer, 'judgements' | 'points'> & { readonly rows: readonly AnswerRow[] };
export type VehicleOutlook = Omit<WireOutlook, 'answer'> & { readonly answer: Answer };
export type LookupAnswer = Omit<WireLookupAnswer, 'answer'> & { readonly answer: Answer | null };

const readAnswer = ({ judgements, points, ...rest }: WireAnswer): Answer => ({
  ...rest,
  rows: answerRows({ judgements, points }),
});

/** A vehicle's page as it is read. */
export const readOutlook = (outlook: WireOutlook): VehicleOutlook => ({
  ...outlook,
  answer: readAnswer(outlook.answer),
});

/** A lookup as it is read. */
export const readLookup = (lookup: WireLookupAnswer): LookupAnswer => ({
  ...lookup,
  answer: lookup.answer && readAnswer(lookup.answer),
});
