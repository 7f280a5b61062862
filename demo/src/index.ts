export { DEMO_ACCOUNTS, DEMO_WORKSHOP } from './accounts.ts';
export { demoFleet, type FleetVehicle } from './fleet/fleet.ts';
export { demoPacks, harbourPack } from './pack.ts';
export { DEMO_VEHICLES, type DemoVehicle } from './vehicles.ts';
