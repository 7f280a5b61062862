/** Minutes in an hour of labour. */
const MINUTES_PER_HOUR = 60;

/** What minutes of labour cost at a rate an hour, in the rate's own money; tax and parts come on top. */
export const labourCost = (minutes: number, ratePerHour: number): number => (minutes / MINUTES_PER_HOUR) * ratePerHour;
