// A bare page of the same framework: router, store, theme and one field. Built as the framework does by itself, and served as plainly.
import { spawnSync } from 'node:child_process'
import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { fileURLToPath } from 'node:url'
import compression from 'compression'
import express from 'express'

/** Its address, and how to end it. */
export const serveBare = async () => {
  const folder = mkdtempSync(join(tmpdir(), 'taraf-bare-'))
  const built = spawnSync('npx', ['expo', 'export', '-p', 'web', '--output-dir', folder], {
    cwd: fileURLToPath(new URL('bare', import.meta.url)),
    encoding: 'utf8',
    env: { ...process.env, CI: '1', EXPO_OFFLINE: '1', EXPO_NO_TELEMETRY: '1', NODE_ENV: 'production' },
  })
  if (built.status !== 0) throw new Error(`the bare page could not be built:\n${built.stderr}`)
  const server = express().use(compression(), express.static(folder)).listen(0, '127.0.0.1')
  await new Promise((resolve) => server.once('listening', resolve))
  return {
    url: `http://127.0.0.1:${server.address().port}`,
    stop: () => {
      server.closeAllConnections()
      server.close()
      rmSync(folder, { recursive: true, force: true })
    },
  }
}
