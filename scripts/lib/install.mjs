import { spawnSync } from 'node:child_process'
import { createHash } from 'node:crypto'
import { existsSync, readFileSync, statfsSync, writeFileSync } from 'node:fs'
import { dirname, join } from 'node:path'
import { Stop, root, say } from './say.mjs'

const stamp = join(root, 'node_modules', '.taraf-installed')
const leastFreeMb = 500

export const wantNode = () => {
  const [major, minor] = process.versions.node.split('.').map(Number)
  if (major < 20 || (major === 20 && minor < 19))
    throw new Stop(`Node.js ${process.versions.node} is too old.`, 'Install Node.js 20.19 or newer, then run it again.')
}

export const wantSpace = (folder = root, leastMb = leastFreeMb) => {
  const { bavail, bsize } = statfsSync(standing(folder))
  const freeMb = Math.floor((bavail * bsize) / 1e6)
  if (freeMb < leastMb)
    throw new Stop(
      `Only ${freeMb} MB are free where ${folder} is; Taraf needs ${leastMb} MB.`,
      'Free some space on that disk, then run it again. Nothing was changed.',
    )
}

/** The folder itself, or the nearest one above it that is there already. */
const standing = (folder) => (existsSync(folder) ? folder : standing(dirname(folder)))

/** Installs the npm packages when the lock file is not the one that they were installed from. */
export const wantPackages = () => {
  const wanted = createHash('sha256')
    .update(readFileSync(join(root, 'package-lock.json')))
    .digest('hex')
  if (existsSync(stamp) && readFileSync(stamp, 'utf8') === wanted) return
  wantSpace()
  say('Installing the npm packages (once, a few minutes) ...')
  const { status, stdout, stderr } = spawnSync('npm', ['ci', '--no-audit', '--no-fund'], { cwd: root, encoding: 'utf8' })
  if (status !== 0)
    throw new Stop(
      `The npm packages could not be installed:\n${tail(stdout + stderr)}`,
      'Check that this machine reaches its npm registry (npm ping) and has space left, then run it again; it goes on from there.',
    )
  writeFileSync(stamp, wanted)
}

const debianPrograms = {
  postgresql: () => findPostgres() !== null,
  chromium: () => existsSync('/usr/bin/chromium'),
}

/** Installs Debian packages that are missing. Needs root; otherwise says the command to run. */
export const wantDebian = (names, isThere = (name) => debianPrograms[name](), uid = process.getuid()) => {
  const missing = names.filter((name) => !isThere(name))
  if (missing.length === 0) return
  const command = `apt-get install -y ${missing.join(' ')}`
  if (uid !== 0)
    throw new Stop(`Debian's ${missing.join(' and ')} is missing, and installing it needs root.`, `Run: sudo ${command}`)
  say(`Installing Debian's ${missing.join(' and ')} (once) ...`)
  const apt = (args) =>
    spawnSync('apt-get', args, { encoding: 'utf8', env: { ...process.env, DEBIAN_FRONTEND: 'noninteractive' } })
  let done = apt(['install', '-y', '--no-install-recommends', ...missing])
  if (done.status !== 0) {
    apt(['update'])
    done = apt(['install', '-y', '--no-install-recommends', ...missing])
  }
  if (done.status !== 0 || missing.some((name) => !isThere(name)))
    throw new Stop(
      `Debian's ${missing.join(' and ')} could not be installed:\n${tail((done.stdout ?? '') + (done.stderr ?? ''))}`,
      `Check that this machine reaches a Debian mirror, then run: ${command}`,
    )
}

/** Where Debian keeps PostgreSQL's programs (newest version that has them), or null. */
export const findPostgres = () => {
  for (let version = 20; version >= 15; version--) {
    const folder = `/usr/lib/postgresql/${version}/bin`
    if (existsSync(join(folder, 'initdb')) && existsSync(join(folder, 'postgres'))) return folder
  }
  return null
}

const tail = (text) => text.trim().split('\n').slice(-6).join('\n')
