import { fileURLToPath } from 'node:url';
import { defineConfig } from 'vite';

const source = (name: string) => fileURLToPath(new URL(`./src/${name}`, import.meta.url));

/**
 * The server as it runs in earnest: our own packages in few files, those of others from node_modules. The files are next to
 * each other, two folders below this one, so that what they find by their own place is where it is from the sources, too.
 */
export default defineConfig({
  root: fileURLToPath(new URL('.', import.meta.url)),
  build: {
    ssr: true,
    target: 'node20',
    copyPublicDir: false,
    minify: false,
    rolldownOptions: {
      input: {
        main: source('main.ts'),
        seed: source('seed.ts'),
        doctor: source('doctor.ts'),
        school: source('school.ts'),
        settings: source('settings.ts'),
        'reading.worker': source('features/roster/reading.worker.ts'),
        'clean.worker': source('domain/pages/clean.worker.ts'),
      },
      output: { entryFileNames: '[name].js', chunkFileNames: '[name]-[hash].js' },
    },
  },
});
