// Property tests draw the same cases in every run: a commit passes or fails the same way everywhere. TARAF_SEED=fresh draws others,
// a number draws those again.
const fc = require('fast-check')

const { TARAF_SEED: wanted = '20260901' } = process.env
if (wanted !== 'fresh') fc.configureGlobal({ seed: Number(wanted) })
