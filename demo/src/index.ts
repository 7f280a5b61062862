export { DEMO_ACCOUNTS, DEMO_WORKSHOP } from './accounts.ts';
export { harbourPack } from './pack.ts';
export { DEMO_VEHICLES, type DemoVehicle } from './vehicles.ts';
