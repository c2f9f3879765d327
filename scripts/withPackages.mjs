// Runs a TypeScript command of the project, after installing the npm packages where they are missing.
import { spawnSync } from 'node:child_process'
import { join } from 'node:path'
import { wantNode, wantPackages } from './lib/install.mjs'
import { keysFolder, runningUrls } from './lib/cluster.mjs'
import { root, run } from './lib/say.mjs'

/** What computes for hours is bundled first: that takes a second, and each file translated as it is loaded runs a sixth slower. */
const bundle = async (file) => {
  const { build } = await import('esbuild')
  const outfile = join(root, 'node_modules/.cache/taraf', file.replace(/\.ts$/, '.mjs'))
  const banner = {
    js: `import { createRequire } from 'node:module'; const require = createRequire(${JSON.stringify(join(root, 'package.json'))})`,
  }
  await build({
    entryPoints: [join(root, file)],
    bundle: true,
    platform: 'node',
    format: 'esm',
    outfile,
    banner,
    sourcemap: true,
  })
  return outfile
}

await run(async () => {
  wantNode()
  wantPackages()
  const [file, ...args] = process.argv.slice(2)
  const urls = file.endsWith('audit.ts') && !process.env.TARAF_DATABASE_URL ? runningUrls('main') : null
  const how = file.startsWith('apps/campaign/')
    ? ['--enable-source-maps', await bundle(file)]
    : ['--import', 'tsx', join(root, file)]
  const { status } = spawnSync(process.execPath, [...how, ...args], {
    stdio: 'inherit',
    env: { ...process.env, ...(urls === null ? {} : { TARAF_DATABASE_URL: urls.server, TARAF_KEYS: keysFolder('main') }) },
  })
  return status ?? 1
})
