const swc = (web) => ({
  '^.+\\.(t|j|mj)sx?$': [
    '@swc/jest',
    {
      swcrc: false,
      sourceMaps: 'inline',
      module: { type: 'commonjs' },
      jsc: {
        target: 'es2022',
        parser: { syntax: 'typescript', tsx: web, decorators: true },
        transform: {
          legacyDecorator: true,
          decoratorMetadata: true,
          react: { runtime: 'automatic' },
          // As Math below: looked up through the sandbox, each costs more than the sum it stands in.
          optimizer: { globals: { vars: { NaN: '(0 / 0)', Infinity: '(1 / 0)' } } },
        },
        keepClassNames: true,
      },
    },
  ],
});
const root = import.meta.dirname;
const names = {
  '^@ebrix/core/(.*)$': `${root}/packages/core/src/$1/index.ts`,
  '^@ebrix/contract$': `${root}/packages/contract/src/index.ts`,
  '^@ebrix/contract/routes/(.*)$': `${root}/packages/contract/src/routes/$1-routes.ts`,
  '^(\\.{1,2}/.*)\\.js$': '$1',
};
// Jest loads CommonJS; these ship as ES modules only and are translated like our own source.
const transformIgnorePatterns = [
  '/node_modules/(?!(uuid|p-limit|yocto-queue|d3-[a-z-]+|internmap|react-hotkeys-hook|hyparquet|hyparquet-writer|idb)/)',
];
const project = (displayName, folder, more = {}) => ({
  displayName,
  rootDir: `${root}/${folder}`,
  testMatch: ['<rootDir>/src/**/*.test.ts', '<rootDir>/src/**/*.test.tsx'],
  transform: swc(false),
  moduleNameMapper: names,
  transformIgnorePatterns,
  runtime: `${root}/scripts/jest/compiled-once.cjs`,
  // Looked up through the sandbox, Math makes numerical tests several times slower.
  sandboxInjectedGlobals: ['Math', 'Number', 'Array', 'Object', 'Float64Array', 'Map', 'Set', 'String'],
  ...more,
});

export default {
  testTimeout: 240_000,
  projects: [
    project('core', 'packages/core'),
    project('contract', 'packages/contract'),
    project('server', 'apps/server'),
    project('web', 'apps/web', {
      testMatch: ['<rootDir>/{src,library-styles}/**/*.test.{ts,tsx}'],
      transform: swc(true),
      testEnvironment: 'jest-fixed-jsdom',
      setupFilesAfterEnv: ['<rootDir>/test/setup.ts'],
      moduleNameMapper: {
        ...names,
        '^@ant-design/colors/es/(.*)$': '@ant-design/colors/lib/$1',
        '^antd/es/(.*)$': 'antd/lib/$1',
        '\\.(css|woff2?)$': '<rootDir>/test/style.cjs',
      },
    }),
  ],
};
