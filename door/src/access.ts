import { accessMinutes } from '@crosspeen/core';
import { asArray, asNumber, asObject, asText, field, type Call } from './json.ts';

/** Minutes of jobs alone and together; where operations need each other in a ring, that they do. */
export const accessCall: Call = (input) => {
  const texts = (list: Parameters<typeof asArray>[0], name: string): string[] =>
    asArray(list, name).map((entry) => asText(entry, name));
  const operations = new Map(
    Object.entries(asObject(field(input, 'ops'), 'ops')).map(([key, value]) => {
      const operation = asObject(value, `ops.${key}`);
      return [key, { minutes: asNumber(field(operation, 'm'), 'm'), needs: texts(field(operation, 'req'), 'req') }];
    }),
  );
  const jobs = asArray(field(input, 'jobs'), 'jobs').map((job) => texts(job, 'jobs'));
  try {
    const { alone, together, marginalLast, shares } = accessMinutes(operations, jobs);
    return { cycle: false, alone, together, marginal_last: marginalLast, shapley: shares };
  } catch (error) {
    if (error instanceof RangeError && error.message.startsWith('an operation needs itself'))
      return { cycle: true, way: error.message };
    throw error;
  }
};
