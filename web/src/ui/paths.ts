/** Screens of a vehicle, as their addresses call them. */
export type VehicleScreen = 'outlook' | 'walk' | 'complaint' | 'visits' | 'history';

/** Address of a vehicle's screen; with `row`, the row of that weak point is open. */
export const vehiclePath = (id: string, screen: VehicleScreen = 'outlook', row?: string): string =>
  `/vehicles/${id}/${screen}${row === undefined ? '' : `?row=${row}`}`;
