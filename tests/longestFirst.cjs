// A machine that has never run the tests sorts them by the size of their files. Those that run for minutes begin first all the same, so that
// none is left to run alone at the end.
const { default: Sequencer } = require(require.resolve('@jest/test-sequencer', { paths: [require.resolve('jest')] }))

const longest = [
  'reads.test',
  'campaign.test',
  'readsParts.test',
  'motors.model',
  'motorsOnRig.test',
  'armingOnRig.test',
  'escsOnRig.test',
]
const rank = ({ path }) => {
  const at = longest.findIndex((name) => path.includes(`/${name}`))
  return at < 0 ? longest.length : at
}

module.exports = class extends Sequencer {
  sort(tests) {
    return super.sort(tests).sort((a, b) => rank(a) - rank(b))
  }
}
