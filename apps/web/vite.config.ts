import { createHash } from 'node:crypto';
import react from '@vitejs/plugin-react';
import { defineConfig, type Plugin } from 'vite';
import { libraryStyles } from './library-styles/plugin.js';

const WORKER = 'along-worker.js';
/** Alphabets that are not read here, and a form of fonts that no phone needs: fetched when they are asked for. */
const OTHER_LETTERS = /-(latin-ext|vietnamese|cyrillic|greek)-|\.woff$/;

/** Tells the phone's service worker which files its app is made of: what its page loads, and what that imports, now or when it is asked for. */
function alongFiles(): Plugin {
  return {
    name: 'along-files',
    enforce: 'post',
    generateBundle: {
      order: 'post',
      handler(_options, bundle) {
        const page = bundle['along.html'];
        const worker = bundle[WORKER];
        if (page?.type !== 'asset' || worker?.type !== 'chunk') throw new Error('The app for the phone was not built.');
        const files = new Set<string>();
        const add = (name: string): void => {
          if (files.has(name) || OTHER_LETTERS.test(name)) return;
          files.add(name);
          const chunk = bundle[name];
          if (chunk?.type !== 'chunk') return;
          chunk.imports.forEach(add);
          chunk.dynamicImports.forEach(add);
          chunk.viteMetadata?.importedCss.forEach(add);
          chunk.viteMetadata?.importedAssets.forEach(add);
        };
        for (const [, name] of String(page.source).matchAll(/(?:src|href)="\/(assets\/[^"]+)"/g)) add(name!);
        const revision = createHash('sha256').update(page.source).digest('hex').slice(0, 16);
        const list = [
          { url: '/along.html', revision },
          ...[...files].sort().map((name) => ({ url: `/${name}`, revision: null })),
        ];
        worker.code = worker.code.replaceAll('__ALONG_FILES__', JSON.stringify(list));
      },
    },
  };
}

/** Asked for with the page, not when the first figure is drawn: a table that has its letters late is laid out twice. */
const FIRST_LETTERS = /archivo-latin-wdth-normal-.*\.woff2$|b612-latin-400-normal-.*\.woff2$/;
const FIRST_ON_A_PHONE = /archivo-latin-wdth-normal-.*\.woff2$|b612-latin-700-normal-.*\.woff2$/;
function preloadLetters(): Plugin {
  return {
    name: 'preload-letters',
    transformIndexHtml: {
      order: 'post',
      handler: (_html, { bundle = {}, filename }) =>
        Object.keys(bundle)
          .filter((name) => (filename.endsWith('along.html') ? FIRST_ON_A_PHONE : FIRST_LETTERS).test(name))
          .map((name) => ({
            tag: 'link',
            attrs: { rel: 'preload', as: 'font', type: 'font/woff2', crossorigin: true, href: `/${name}` },
            injectTo: 'head' as const,
          })),
    },
  };
}

export default defineConfig({
  plugins: [libraryStyles(), react(), preloadLetters(), alongFiles()],
  resolve: { conditions: ['source', 'module', 'browser', 'development|production'] },
  server: { host: '127.0.0.1', proxy: { '/api': 'http://127.0.0.1:4181' } },
  build: {
    target: 'es2022',
    sourcemap: false,
    chunkSizeWarningLimit: 700,
    rollupOptions: {
      // Parts of the component library that do not say that a module of which nothing is used can be left out.
      treeshake: { moduleSideEffects: [{ test: /node_modules\/@rc-component\/.*\.js$/, sideEffects: false }] },
      input: { main: 'index.html', along: 'along.html', 'along-worker': 'src/along/service-worker.ts' },
      output: { entryFileNames: ({ name }) => (name === 'along-worker' ? WORKER : 'assets/[name]-[hash].js') },
    },
  },
});
