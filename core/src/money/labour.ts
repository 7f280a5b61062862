/** Minutes in an hour of labour. */
const MINUTES_PER_HOUR = 60;

/** Cost of minutes of labour at an hourly rate, in the rate's own money, before tax and parts. */
export const labourCost = (minutes: number, ratePerHour: number): number => (minutes / MINUTES_PER_HOUR) * ratePerHour;
