import { readFileSync, readdirSync } from 'node:fs'
import { join } from 'node:path'
import { gzipSync } from 'node:zlib'
import { webFolder } from '../lib/web.mjs'

const folder = join(webFolder, '_expo/static/js/web')

/** What a phone must fetch before anything can be done, gzipped: the scripts that the page names. */
export const bundleSizes = () => {
  const files = readdirSync(folder).filter((name) => name.endsWith('.js'))
  const gzipped = (name) => gzipSync(readFileSync(join(folder, name))).length / 1000
  const page = readFileSync(join(webFolder, 'index.html'), 'utf8')
  const named = [...page.matchAll(/<script src="[^"]*\/([^"/]+\.js)"/g)].map((match) => match[1])
  const entry = named.at(-1)
  return [
    { figure: 'entry script, gzipped, KB', found: gzipped(entry).toFixed(0), wanted: '' },
    {
      figure: 'all scripts that the page names, gzipped, KB',
      found: named.reduce((sum, name) => sum + gzipped(name), 0).toFixed(0),
      wanted: '<= 420',
    },
    { figure: 'scripts in all (routes are split)', found: String(files.length), wanted: '> 1' },
  ]
}
