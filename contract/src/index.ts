export * from './common.ts';
export * from './session.ts';
export * from './reading.ts';
export * from './library.ts';
export * from './intake.ts';
export * from './audience.ts';
export * from './receive.ts';
export * from './door.ts';
