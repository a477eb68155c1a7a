import { defineConfig } from 'vite';
import { common } from './vite.config.ts';

/** The part of the application that makes pages on the server with all it needs. */
export default defineConfig({
  ...common(),
  ssr: { noExternal: true },
  build: {
    ssr: 'src/made.ts',
    target: 'node20',
    copyPublicDir: false,
  },
});
