export * from './answer.ts';
export * from './common.ts';
export * from './errors.ts';
export * from './pack.ts';
export * from './session.ts';
export * from './settings.ts';
export * from './vehicle.ts';
