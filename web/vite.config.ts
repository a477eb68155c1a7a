import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { brotliCompressSync, constants, gzipSync } from 'node:zlib';
import vueI18n from '@intlify/unplugin-vue-i18n/vite';
import tailwindcss from '@tailwindcss/vite';
import vue from '@vitejs/plugin-vue';
import { defineConfig, type Plugin } from 'vite';
import { VitePWA } from 'vite-plugin-pwa';

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

/** Lays down what pdf.js fetches when a PDF wants it: letters, characters and decoders. */
function pdfParts(): Plugin {
  const source = fileURLToPath(new URL('.', import.meta.resolve('pdfjs-dist/package.json')));
  return {
    name: 'pdf-parts',
    apply: 'build',
    generateBundle() {
      for (const folder of ['cmaps', 'standard_fonts', 'wasm'])
        for (const name of readdirSync(join(source, folder)))
          this.emitFile({
            type: 'asset',
            fileName: `assets/pdf/${folder}/${name}`,
            source: readFileSync(join(source, folder, name)),
          });
    },
  };
}

/** What the application is built with, for browsers and for the server. */
export const common = () => ({
  root: fileURLToPath(new URL('.', import.meta.url)),
  plugins: [
    vue(),
    vueI18n({
      include: fileURLToPath(new URL('./src/locales/**', import.meta.url)),
      runtimeOnly: true,
      dropMessageCompiler: true,
      strictMessage: true,
    }),
  ],
  // Parts of the frameworks that this application does not use are left out of what people load.
  define: {
    __VUE_OPTIONS_API__: false,
    __VUE_I18N_FULL_INSTALL__: false,
    __VUE_I18N_LEGACY_API__: false,
    __INTLIFY_PROD_DEVTOOLS__: false,
  },
});

/**
 * In the head of the page comes first what everything looks like, the letters that are on every page included, and then
 * what it does.
 */
function looksFirst(): Plugin {
  const LETTERS = /\/(text|title)-.*\.woff2$/u;
  return {
    name: 'looks-first',
    apply: 'build',
    transformIndexHtml: {
      order: 'post',
      handler(html, { bundle }) {
        const looks = html.match(/<link rel="stylesheet"[^>]*>/gu) ?? [];
        const letters = Object.keys(bundle!)
          .filter((name) => LETTERS.test(name))
          .map((name) => `<link rel="preload" as="font" crossorigin href="/${name}">`);
        const rest = looks.reduce((left, look) => left.replace(look, ''), html);
        return rest.replace('<script type="module"', [...looks, ...letters, '$&'].join(''));
      },
    },
  };
}

/** What other programs may share with the application: all that a handout is likely to be. */
const SHARED = [
  ...['image/*', 'audio/*', 'video/*', 'text/*', 'application/pdf', 'application/zip'],
  ...['application/msword', 'application/vnd.ms-excel', 'application/vnd.ms-powerpoint'],
  ...['text', 'spreadsheet', 'presentation'].map(
    (kind) => `application/vnd.oasis.opendocument.${kind}`,
  ),
  ...['wordprocessingml.document', 'spreadsheetml.sheet', 'presentationml.presentation'].map(
    (kind) => `application/vnd.openxmlformats-officedocument.${kind}`,
  ),
];

export default defineConfig({
  ...common(),
  plugins: [
    ...common().plugins,
    tailwindcss(),
    pdfParts(),
    // What a device takes along to work without a connection: what students use, with the letters of Latin script.
    VitePWA({
      strategies: 'injectManifest',
      srcDir: 'src',
      filename: 'sw.ts',
      injectRegister: false,
      injectManifest: {
        globPatterns: [
          'index.html',
          'mark.svg',
          'assets/*.{js,mjs,css}',
          'assets/{text,title,code,marks}-*.woff2',
          'assets/*-latin-ext-*.woff2',
        ],
        // Teachers' charts and marks, and what pages are written with and pictures worked on, which are large.
        globIgnores: ['assets/{ShareBars,compact,PageWriting,PageVersions,capture.worker}-*'],
        dontCacheBustURLsMatching: /^assets\//u,
      },
      manifest: {
        id: '/',
        name: 'Sammlung',
        short_name: 'Sammlung',
        start_url: '/',
        display: 'standalone',
        theme_color: '#0b3b41',
        background_color: '#f4f1ea',
        shortcuts: [{ name: 'Photograph', url: '/pictures' }],
        share_target: {
          action: '/shared',
          method: 'POST',
          enctype: 'multipart/form-data',
          params: { files: [{ name: 'files', accept: SHARED }] },
        },
        icons: [
          { src: '/mark.svg', sizes: 'any', type: 'image/svg+xml' },
          { src: '/mark-192.png', sizes: '192x192', type: 'image/png' },
          { src: '/mark-512.png', sizes: '512x512', type: 'image/png' },
          { src: '/mark-whole.png', sizes: '512x512', type: 'image/png', purpose: 'maskable' },
        ],
      },
    }),
    looksFirst(),
    packedTwins(),
  ],
  build: {
    manifest: true,
    target: 'es2022',
    chunkSizeWarningLimit: 600,
    // Letters are fetched when they are met, not with the style sheet.
    assetsInlineLimit: (file) => (file.endsWith('.woff2') ? false : undefined),
    // The page itself names what every part needs: no part need ask for it again.
    modulePreload: {
      resolveDependencies: (_, parts, { hostType }) =>
        hostType === 'html'
          ? parts
          : parts.filter((part) => !/\/(base|reading|rolldown-runtime)-/u.test(part)),
    },
    rolldownOptions: {
      output: {
        // What runs on every first page is compiled while it is being fetched, by browsers that heed this.
        postBanner: ({ name }) =>
          ['index', 'base', 'reading', 'first'].includes(name)
            ? '//# allFunctionsCalledOnLoad'
            : '',
        // What every page needs packs better, and is asked for sooner, as one piece.
        codeSplitting: {
          groups: [
            {
              name: 'base',
              priority: 3,
              test: /node_modules\/(@vue\/(reactivity|runtime-|shared)|vue|vue-router|vue-i18n|@intlify|pinia|@pinia)\//u,
            },
            // The frame around all pages of people with an account, and the first page of students.
            {
              name: 'first',
              priority: 1,
              test: /src\/(app\/(shell\/(AppShell|PersonMenu|LanguageChoice|install)|action|device\/device)\.|features\/receive\/(NewThings|ClassCards|came|classes)\.)|@vueuse|icons\/(bookmark|search|chevron-down)\./u,
            },
            {
              name: 'reading',
              priority: 2,
              test: /src\/(app\/(api\/(addresses|problems)|live\/live|shell\/(title|toast)|format|meta|place|taking|PageState|SmallPicture)\.|ui\/(CrumbLine|ItemLink|KindMark|NearBlock|keepPlace|listKeys)\.)|createLucideIcon|plugin-vue_export-helper|icons\/(download|layout-grid|list-checks|rows-3|x)\.|shell\/walls\./u,
            },
          ],
        },
      },
    },
  },
  server: { proxy: { '/api': process.env.SAMMLUNG_API ?? 'http://localhost:4780' } },
});
