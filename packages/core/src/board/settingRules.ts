import type { Finding } from '@taraf/contract'
import { byHand, defineCheck, refusal } from '../check'
import { hasBoard } from '../sheetHas'
import { want } from '../take'
import { rules, wantsWords, wordsOf } from './rules'

/** Settings that contradict each other, whatever the sheet says of each alone. */
export const settingRules = defineCheck({
  id: 'board.rules',
  version: 3,
  station: 'board',
  title: 'Settings fit together',
  proves: 'No setting contradicts another.',
  words: {
    altitudeSensor: 'Altitude hold has its sensor',
    positionSensor: 'Position hold has its sensor',
    returnHomeSensor: 'Return home has its sensor',
    headingSensor: 'Heading has its sensor',
    lossSensor: 'Act at signal loss has its sensor',
    outputTwice: 'One output for each motor',
    socketTwice: 'One socket for each use',
    signalPeriod: 'Motor signal keeps up with the loop',
    armingGate: 'Low end of the throttle is below the arming gate',
    gates: 'Gates of the sticks in order',
    armingHigh: 'Arming gate is near the low gate of the throttle',
    idle: 'Idle of the motors is below their most',
    warnings: 'Voltage warnings in order',
  },
  needs: ['board.baseline'],
  reads: {
    settings: [
      'switch.*',
      'baro.use',
      'compass.use',
      'position.use',
      'loss.act',
      'output.*',
      'socket.*',
      'esc.*',
      'loop.rate',
      'arm.throttleMost',
      'radio.lowGate',
      'radio.highGate',
      'motors.idle',
      'motors.most',
      'power.warnCell',
      'power.lowCell',
    ],
    parts: [],
    acts: [],
    image: true,
  },
  appliesTo: hasBoard,
  stages: null,
  *take() {
    yield* want.reports({
      label: 'asked',
      ask: 'Leave the cable in. The settings are checked against each other.',
      of: ['identity'],
    })
  },
  evaluate: ({ board: { settings, choices = {} } }) => {
    if (settings === undefined) return refusal('the evidence does not say what the board is set to', 'Run it again.')
    const wordless = wantsWords.filter((name) => settings[name] !== undefined && choices[name] === undefined)
    if (wordless.length > 0)
      return refusal(`the evidence does not say what the numbers of ${wordless.join(', ')} mean on this board`, 'Run it again.')
    const words = wordsOf(settings, choices)
    return rules.map(({ key, broken }): Finding => {
      const found = broken((name) => settings[name] ?? 0, words)
      if (found === null) return { key, value: 'holds', unit: '', verdict: 'pass' }
      const { why, act, settings: write } = found
      return {
        key,
        value: why,
        unit: '',
        verdict: 'fail',
        remedy: write === undefined ? byHand(act) : { by: 'settings', act, settings: write },
      }
    })
  },
})
