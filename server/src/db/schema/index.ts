export * from './school.ts';
export * from './accounts.ts';
export * from './library.ts';
export * from './access.ts';
export * from './traces.ts';
export * from './pages.ts';
export * from './previews.ts';
export * from './class-pages.ts';
