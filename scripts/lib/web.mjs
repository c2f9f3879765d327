import { spawn } from 'node:child_process'
import { createHash } from 'node:crypto'
import { existsSync, readFileSync, readdirSync, renameSync, rmSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { brotliCompressSync, constants, gzipSync } from 'node:zlib'
import { Stop, root, say } from './say.mjs'

const app = join(root, 'apps/bench')
export const webFolder = join(app, 'dist')
const stamp = join(webFolder, '.sources')
const sources = ['apps/bench/app', 'apps/bench/src', 'apps/bench/public', 'packages/core/src', 'packages/contract/src']
const singles = [
  'apps/bench/package.json',
  'apps/bench/app.json',
  'apps/bench/index.ts',
  'apps/bench/babel.config.cjs',
  'apps/bench/metro.config.js',
  'apps/bench/serverDecides.cjs',
  'babel.config.cjs',
  'package-lock.json',
]

const sourcesHash = () => {
  const hash = createHash('sha256')
  const add = (path) => hash.update(path).update(readFileSync(join(root, path)))
  for (const folder of sources)
    if (existsSync(join(root, folder)))
      for (const entry of readdirSync(join(root, folder), { recursive: true, withFileTypes: true }).sort(byPath))
        if (entry.isFile() && !entry.name.includes('.test.')) add(join(entry.parentPath, entry.name).slice(root.length + 1))
  for (const file of singles) if (existsSync(join(root, file))) add(file)
  return hash.digest('hex')
}
const byPath = (a, b) => (join(a.parentPath, a.name) < join(b.parentPath, b.name) ? -1 : 1)

/** Builds the web application when its sources are not those of the last build. */
export const wantWeb = async () => {
  const wanted = sourcesHash()
  if (existsSync(stamp) && readFileSync(stamp, 'utf8') === wanted) return
  say('Building the application (once for these sources, about two minutes) ...')
  const fresh = join(app, 'dist-new')
  rmSync(fresh, { recursive: true, force: true })
  const { code, printed } = await exported()
  if (code !== 0)
    throw new Stop(
      `The application could not be built:\n${printed.trim().split('\n').slice(-15).join('\n')}`,
      'Mend what the lines above name. A build that worked before is kept with: npm start -- --no-build',
    )
  compress(join(fresh, '_expo'))
  writeFileSync(join(fresh, '.sources'), wanted)
  rmSync(webFolder, { recursive: true, force: true })
  renameSync(fresh, webFolder)
}

const exported = () =>
  new Promise((resolve, reject) => {
    const child = spawn('npx', ['expo', 'export', '-p', 'web', '--output-dir', 'dist-new'], {
      cwd: app,
      stdio: ['ignore', 'pipe', 'pipe'],
      env: { ...process.env, CI: '1', EXPO_OFFLINE: '1', EXPO_NO_TELEMETRY: '1', NODE_ENV: 'production' },
    })
    let printed = ''
    for (const stream of [child.stdout, child.stderr]) stream.on('data', (text) => (printed += text))
    child.once('error', reject)
    child.once('close', (code) => resolve({ code, printed }))
  })

/** Leaves every script and style compressed beside itself, both ways that browsers understand. */
const compress = (folder) => {
  for (const entry of readdirSync(folder, { recursive: true, withFileTypes: true })) {
    if (!entry.isFile() || !/\.(js|css)$/.test(entry.name)) continue
    const path = join(entry.parentPath, entry.name)
    const bytes = readFileSync(path)
    writeFileSync(`${path}.gz`, gzipSync(bytes, { level: 9 }))
    writeFileSync(`${path}.br`, brotliCompressSync(bytes, { params: { [constants.BROTLI_PARAM_QUALITY]: 9 } }))
  }
}
