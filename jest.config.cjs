// Node.js runs the rest of the syntax itself. Modules are loaded at once: one loaded late would hold up a capture.
const babel = [
  'babel-jest',
  {
    configFile: false,
    babelrc: false,
    presets: ['@babel/preset-typescript'],
    plugins: ['@babel/plugin-transform-modules-commonjs', 'babel-plugin-transform-import-meta'],
  },
]
const forWeb = ['babel-jest', { configFile: './babel.config.cjs', caller: { name: 'metro', bundler: 'metro', platform: 'web' } }]
const plain = {
  testEnvironment: 'node',
  // A global is slow to reach from within a test's context: a simulation reaches for these a million times.
  sandboxInjectedGlobals: ['Math', 'Number', 'Array', 'Object', 'Float32Array', 'Float64Array', 'Map', 'Set', 'Infinity'],
  setupFiles: ['<rootDir>/tests/drawnCases.cjs'],
  transform: { '\\.[cm]?[jt]sx?$': babel },
  transformIgnorePatterns: [
    '\\.cjs$',
    '/node_modules/(?!(canonicalize|fourier-transform|p-limit|yocto-queue|pure-rand|pony-cause|@noble|@taraf)/)',
  ],
  moduleFileExtensions: ['ts', 'tsx', 'mjs', 'cjs', 'js', 'json'],
  testPathIgnorePatterns: ['/node_modules/', '/dist/', '/dist-new/', '\\.reference\\.test\\.ts$'],
}

// A model of the server and a board in one clock of its own: it computes, and wants no database.
const model = '\\.model\\.test\\.ts$'
// Several processes, or sockets that hang: what goes by the machine's clock has the machine for itself.
const realtime = '\\.realtime\\.test\\.ts$'
const withDatabase = {
  ...plain,
  roots: ['<rootDir>/apps/server'],
  globalSetup: '<rootDir>/apps/server/tests/startDatabase.mjs',
  globalTeardown: '<rootDir>/apps/server/tests/stopDatabase.mjs',
}

const { watchPlugins: _, ...web } = require('jest-expo/web/jest-preset')

module.exports = {
  testSequencer: '<rootDir>/tests/longestFirst.cjs',
  projects: [
    {
      ...plain,
      displayName: 'unit',
      roots: ['<rootDir>/packages', '<rootDir>/apps/rig', '<rootDir>/apps/campaign', '<rootDir>/apps/histories'],
    },
    {
      ...web,
      displayName: 'app',
      roots: ['<rootDir>/apps/bench/src'],
      transform: { '\\.[cm]?[jt]sx?$': forWeb, '\\.(ttf|png)$': 'jest-expo/src/preset/assetFileTransformer.js' },
      globals: { __DEV__: true },
      moduleFileExtensions: ['web.ts', 'web.tsx', 'ts', 'tsx', 'web.js', 'mjs', 'js', 'json'],
      transformIgnorePatterns: [
        '/node_modules/(?!((jest-)?react-native|@react-native|expo|@expo|@tamagui|tamagui|react-redux|@reduxjs|immer|@taraf|standard-navigation|lucide-react-native))',
      ],
      setupFiles: ['<rootDir>/apps/bench/tests/setup.ts', '<rootDir>/tests/drawnCases.cjs'],
    },
    {
      ...plain,
      displayName: 'reference',
      roots: ['<rootDir>/packages', '<rootDir>/apps/campaign', '<rootDir>/apps/server'],
      testMatch: ['**/*.reference.test.ts'],
      testPathIgnorePatterns: ['/node_modules/'],
    },
    { ...plain, displayName: 'model', roots: ['<rootDir>/apps/server'], testRegex: [model] },
    {
      ...withDatabase,
      displayName: 'server',
      testPathIgnorePatterns: [...plain.testPathIgnorePatterns, model, realtime],
    },
    { ...withDatabase, displayName: 'realtime', testRegex: [realtime] },
    { ...plain, displayName: 'start', roots: ['<rootDir>/tests/start'] },
  ],
}
