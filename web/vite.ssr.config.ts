import { defineConfig } from 'vite';
import { common } from './vite.config.ts';

const { define, ...rest } = common();

/** The part of the application that makes pages on the server, with all it needs. */
export default defineConfig({
  ...rest,
  // However the server runs: while developing, the frameworks keep all that was ever made, to look into it.
  define: { ...define, 'process.env.NODE_ENV': '"production"' },
  ssr: { noExternal: true },
  build: { ssr: 'src/ssr.ts', target: 'node20', copyPublicDir: false },
});
