/** Builds the server where its sources have changed; resolves to the folder of its scripts. */
export function ensureServer(): Promise<string>;
/** The same for the web application. */
export function ensureBuilt(): Promise<string>;
