import { fileURLToPath } from 'node:url';
import { brotliCompressSync, constants, gzipSync } from 'node:zlib';
import vueI18n from '@intlify/unplugin-vue-i18n/vite';
import tailwindcss from '@tailwindcss/vite';
import vue from '@vitejs/plugin-vue';
import { defineConfig, type Plugin } from 'vite';

/** Lays packed twins beside the built files, so that the server need not pack anything while people wait. */
function packedTwins(): Plugin {
  return {
    name: 'packed-twins',
    apply: 'build',
    generateBundle: {
      order: 'post',
      handler(_, bundle) {
        for (const [fileName, output] of Object.entries(bundle)) {
          if (!/\.(js|mjs|css|svg|html)$/u.test(fileName)) continue;
          const source = output.type === 'chunk' ? output.code : output.source;
          this.emitFile({
            type: 'asset',
            fileName: `${fileName}.gz`,
            source: gzipSync(source, { level: 9 }),
          });
          this.emitFile({
            type: 'asset',
            fileName: `${fileName}.br`,
            source: brotliCompressSync(source, { params: { [constants.BROTLI_PARAM_QUALITY]: 9 } }),
          });
        }
      },
    },
  };
}

export default defineConfig({
  root: fileURLToPath(new URL('.', import.meta.url)),
  plugins: [
    vue(),
    vueI18n({
      include: fileURLToPath(new URL('./src/locales/**', import.meta.url)),
      runtimeOnly: true,
      dropMessageCompiler: true,
      strictMessage: true,
    }),
    tailwindcss(),
    packedTwins(),
  ],
  // Parts of the frameworks that this application does not use are left out of what people load.
  define: {
    __VUE_OPTIONS_API__: false,
    __VUE_I18N_FULL_INSTALL__: false,
    __VUE_I18N_LEGACY_API__: false,
    __INTLIFY_PROD_DEVTOOLS__: false,
  },
  build: { target: 'es2022', chunkSizeWarningLimit: 600 },
  server: { proxy: { '/api': process.env.SAMMLUNG_ADDRESS ?? 'http://localhost:4780' } },
});
