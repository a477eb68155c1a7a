export * from './people.ts';
export * from './school.ts';
export * from './library.ts';
export * from './class-pages.ts';
export * from './boxes.ts';
export * from './sign-ins.ts';
export * from './tray.ts';
