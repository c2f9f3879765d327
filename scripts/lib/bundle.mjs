import { join } from 'node:path'
import { root } from './say.mjs'

/** What is not written in JavaScript, or looks for its own files, stays where it is. */
const apart = ['sharp', '@node-rs/argon2', 'pg-native', 'pg-hstore', 'workerpool']

/** What computes for hours is bundled first: that takes a second, and each file translated as it is loaded runs a sixth slower. */
export const bundle = async (file) => {
  const { build } = await import('esbuild')
  const outfile = join(root, 'node_modules/.cache/taraf', file.replace(/\.ts$/, '.mjs'))
  const at = JSON.stringify(join(root, 'package.json'))
  const banner = {
    js: `import { createRequire } from 'node:module'; const require = createRequire(${at}), __filename = ${at}, __dirname = ${JSON.stringify(root)}`,
  }
  await build({
    entryPoints: [join(root, file)],
    bundle: true,
    platform: 'node',
    format: 'esm',
    outfile,
    banner,
    external: apart,
    sourcemap: true,
    logLevel: 'error',
  })
  return outfile
}
