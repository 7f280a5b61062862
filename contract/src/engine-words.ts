export const FUELS = ['petrol', 'diesel'] as const;
export const ASPIRATIONS = ['natural', 'turbo'] as const;
export const TIMING_DRIVES = ['belt', 'chain', 'belt in oil', 'gears'] as const;
