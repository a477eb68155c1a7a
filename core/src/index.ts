export * from './model.ts';
export * from './release.ts';
export * from './audience.ts';
export * from './access.ts';
export * from './consequence.ts';
export * from './naming.ts';
export * from './intake.ts';
export * from './tabs.ts';
