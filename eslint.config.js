import hooks from 'eslint-plugin-react-hooks'
import tseslint from 'typescript-eslint'

// The rooms of the house and what each may import of the others (docs/architecture.md). Tests may also use what tests need.
const rooms = {
  'packages/contract': { may: [], pure: true },
  'packages/core': { may: ['contract'], pure: true },
  'packages/takes': { may: ['contract', 'core'], pure: true },
  'packages/rig': { may: ['contract', 'core/rotation', 'core/geometry', 'core/field'], pure: true },
  'packages/demo': { may: ['contract', 'core', 'rig', 'takes'], pure: true },
  'apps/rig': { may: ['contract', 'rig', 'demo', 'core/rotation'] },
  'apps/campaign': { may: ['contract', 'core', 'rig', 'demo', 'takes'] },
  'apps/server': { may: ['contract', 'core', 'rig', 'demo', 'takes'] },
  'apps/histories': { may: ['contract', 'core', 'rig', 'demo', 'takes', 'server'] },
  'apps/bench': { may: ['contract', 'core'] },
  'tests/e2e': { may: [] },
}
const machine = '^(node:.*|fs|path|crypto|http|ws|express|pg|sequelize|react(-.*)?|expo(-.*)?|@tamagui/.*)$'

const boundaries = Object.entries(rooms).map(([room, { may, pure }]) => ({
  files: [`${room}/**/*.{ts,tsx}`],
  ignores: [`${room}/tests/**`, ...(pure ? [`${room}/**/*.test.ts`] : [])],
  rules: {
    'no-restricted-imports': [
      'error',
      {
        patterns: [
          {
            regex: `^@taraf/(?!(${
              [...may, ...(may.includes('contract') || room === 'packages/contract' ? ['contract'] : [])]
                .map((name) =>
                  name === 'core'
                    ? 'core(/.*)?'
                    : name === 'contract'
                      ? 'contract(/(campaign|firstIssue|problemTypes|readEntry|wire))?'
                      : name === 'server'
                        ? 'server(/.*)?'
                        : name,
                )
                .join('|') || '$none'
            })$)`,
            message: `${room} may import of the project only: ${may.join(', ') || 'nothing'}.`,
          },
          { group: ['**/packages/**', '**/apps/**'], message: 'Import another room by its package name.' },
          ...(pure ? [{ regex: machine, message: `${room} is pure: no I/O, no clock, no interface.` }] : []),
        ],
      },
    ],
  },
}))

// The floors of the server, from the lowest up: a folder imports from those before it, and so never in a circle.
const floors = [
  ['config', 'clock', 'database', 'http'],
  ['files', 'work', 'ports', 'links', 'record'],
  ['people', 'sheets', 'airframes', 'batch', 'benches', 'jobs', 'settings', 'images', 'takes', 'transmitters', 'today'],
  ['watch', 'live', 'hands'],
  ['demo', 'commands', 'app'],
].flat()
const serverFloors = floors.map((folder, i) => ({
  files: [`apps/server/src/${folder}/**/*.ts`, `apps/server/src/${folder}.ts`],
  ignores: ['**/*.test.ts'],
  rules: {
    '@typescript-eslint/no-restricted-imports': [
      'error',
      {
        patterns: [
          {
            regex: `^(\\.\\./)+(${floors.slice(i + 1).join('|')})(/|$)`,
            message: `apps/server/src/${folder} may import from the floors below it only: ${floors.slice(0, i).join(', ') || 'none'}.`,
          },
          { regex: '^(node:)?timers', message: 'Wait through a Clock.' },
        ],
      },
    ],
  },
}))

const timers = ['setTimeout', 'setInterval', 'setImmediate', 'performance']
const seeded = {
  selector: 'CallExpression[callee.object.name="Math"][callee.property.name="random"]',
  message: 'Use a seeded source.',
}

export default tseslint.config(
  { ignores: ['**/dist/**', '**/dist-new/**', '.data/**', '**/.expo/**', 'test-results/**'] },
  ...tseslint.configs.strict,
  ...tseslint.configs.stylistic,
  {
    rules: {
      '@typescript-eslint/no-unused-vars': ['error', { argsIgnorePattern: '^_', varsIgnorePattern: '^_' }],
      '@typescript-eslint/consistent-type-imports': ['error', { fixStyle: 'inline-type-imports' }],
      '@typescript-eslint/unified-signatures': 'off',
      '@typescript-eslint/no-empty-function': 'off',
      '@typescript-eslint/no-invalid-void-type': 'off',
      'no-restricted-syntax': ['error', seeded],
    },
  },
  // The clock is I/O too: the core and the rig's model are told the time; takes and the server read it and wait through their port alone.
  {
    files: ['packages/{core,rig}/src/**/*.ts'],
    ignores: ['**/*.test.ts'],
    rules: { 'no-restricted-globals': ['error', ...timers, 'process', 'window', 'document', 'fetch'] },
  },
  {
    files: ['packages/takes/src/**/*.ts', 'apps/server/src/**/*.ts'],
    ignores: ['**/*.test.ts', 'apps/server/src/clock.ts', 'apps/server/src/main.ts'],
    rules: { 'no-restricted-globals': ['error', ...timers] },
  },
  {
    files: ['packages/{core,rig,takes}/src/**/*.ts', 'apps/server/src/**/*.ts'],
    ignores: ['**/*.test.ts', 'apps/server/src/clock.ts', 'apps/server/src/main.ts'],
    rules: {
      'no-restricted-properties': [
        'error',
        { object: 'Date', property: 'now', message: 'The time is told, or read through a Clock.' },
        { object: 'AbortSignal', property: 'timeout', message: 'Use timeLimit of a Clock.' },
      ],
      'no-restricted-syntax': [
        'error',
        seeded,
        {
          selector: 'NewExpression[callee.name="Date"][arguments.length=0]',
          message: 'The time is told, or read through a Clock.',
        },
      ],
    },
  },
  { files: ['**/*.config.js', '**/*.cjs'], rules: { '@typescript-eslint/no-require-imports': 'off' } },
  { files: ['apps/bench/**/*.{ts,tsx}'], ...hooks.configs.flat['recommended-latest'] },
  ...boundaries,
  ...serverFloors,
)
