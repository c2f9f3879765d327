import type { Finding, Settings } from '@taraf/contract'
import { defineCheck, refusal } from '../check'

/** A rule between settings: what is wrong in words and what to write instead, or null where it holds. */
interface Rule {
  readonly key: string
  readonly broken: (s: (name: string) => number) => { why: string; act: string; settings?: Settings } | null
}

const numbers = (n: number) => Array.from({ length: n }, (_, i) => i + 1)
const signals = ['PWM', 'OneShot125', 'MultiShot', 'DShot150', 'DShot300', 'DShot600', 'DShot1200']
const loopHz = [1000, 2000, 4000, 8000]
/**
 * The longest time that one command takes on the wire, us: pulses at full command for the analogue signals (from memory), 16 bits for
 * the digital ones, and as many again with the turn-round where replies come back on the same wire.
 */
const frameUs = [2000, 250, 25, 16 / 0.15, 16 / 0.3, 16 / 0.6, 16 / 1.2]
const turnRoundUs = 30
const uses = ['free', 'receiver', 'position', 'telemetry', 'video', 'gimbal']

/** Functions of the switch plan that want a sensor, and the setting that has it on. */
const wantsSensor: readonly (readonly [switched: string, sensor: string, words: string])[] = [
  ['altitude', 'baro.use', 'the barometer'],
  ['position', 'position.use', 'the position receiver'],
  ['returnHome', 'position.use', 'the position receiver'],
  ['heading', 'compass.use', 'the compass'],
]

export const rules: readonly Rule[] = [
  ...wantsSensor.map(([switched, sensor, words]) => ({
    key: `${switched}Sensor`,
    broken: (s: (name: string) => number) =>
      s(`switch.${switched}.channel`) > 0 && s(sensor) === 0
        ? {
            why: `${switched} is on a switch while ${words} is off`,
            act: `Turn ${words} on, or take the function off its switch.`,
            settings: { [sensor]: 1 },
          }
        : null,
  })),
  {
    key: 'lossSensor',
    broken: (s) =>
      s('loss.act') === 2 && s('position.use') === 0
        ? {
            why: 'a lost signal is to bring it home while the position receiver is off',
            act: 'Turn the position receiver on, or let it descend where it is.',
            settings: { 'loss.act': 1 },
          }
        : null,
  },
  {
    key: 'outputTwice',
    broken: (s) => {
      const positions = numbers(12).map((o) => s(`output.${o}.position`))
      const twice = positions.find((p, i) => p > 0 && positions.indexOf(p) !== i)
      if (twice === undefined) return null
      const on = numbers(12).filter((o) => positions[o - 1] === twice)
      return {
        why: `motor position ${twice} is on outputs ${on.join(' and ')}`,
        act: 'Give each motor position one output, as it is wired.',
      }
    },
  },
  {
    key: 'socketTwice',
    broken: (s) => {
      const used = numbers(6).map((n) => s(`socket.${n}.use`))
      const twice = used.find((u, i) => u > 0 && used.indexOf(u) !== i)
      if (twice === undefined) return null
      const on = numbers(6).filter((n) => used[n - 1] === twice)
      return {
        why: `sockets ${on.join(' and ')} are both for the ${uses[twice]}`,
        act: 'Free the socket that nothing is plugged into.',
      }
    },
  },
  {
    key: 'signalPeriod',
    broken: (s) => {
      const [signal, loop] = [s('esc.signal'), loopHz[s('loop.rate')] ?? 1000]
      const digital = signal >= 3
      const takes = (frameUs[signal] ?? 0) * (digital && s('esc.replies') === 1 ? 2 : 1)
      const wholeUs = takes + (digital && s('esc.replies') === 1 ? turnRoundUs : 0)
      if (wholeUs <= 1e6 / loop) return null
      const slower = loopHz.findLastIndex((hz) => wholeUs <= 1e6 / hz)
      return {
        why: `a command on ${signals[signal]} takes ${wholeUs.toFixed(0)} us, the loop asks for one every ${(1e6 / loop).toFixed(0)} us`,
        act: slower < 0 ? 'Take a faster signal.' : 'Take a faster signal, or a slower loop.',
        ...(slower < 0 ? {} : { settings: { 'loop.rate': slower } }),
      }
    },
  },
  {
    key: 'armingGate',
    broken: (s) =>
      s('arm.throttleMost') < s('radio.lowGate')
        ? {
            why: `arming wants the throttle under ${s('arm.throttleMost')} us while its low end is only met at ${s('radio.lowGate')} us`,
            act: 'Put the arming gate at the low gate of the throttle.',
            settings: { 'arm.throttleMost': s('radio.lowGate') },
          }
        : null,
  },
  {
    key: 'warnings',
    broken: (s) =>
      s('power.lowCell') >= s('power.warnCell')
        ? {
            why: `the second warning comes at ${s('power.lowCell')} V per cell, not under the first at ${s('power.warnCell')} V`,
            act: 'Let the second warning come later than the first.',
          }
        : null,
  },
]

/** Settings that contradict each other, whatever the sheet says of each alone. */
export const settingRules = defineCheck({
  id: 'board.rules',
  version: 1,
  station: 'board',
  title: 'Settings among themselves',
  proves: 'No setting contradicts another.',
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
      'power.warnCell',
      'power.lowCell',
    ],
    parts: [],
    acts: [],
    firmware: true,
  },
  appliesTo: (sheet) => sheet.board !== undefined && !sheet.setAside?.includes('board.rules'),
  capture: {
    stage: 'body',
    segments: [
      { label: 'asked', seconds: 0, ask: 'Leave the cable in. The settings are held against each other.', asks: ['identity'] },
    ],
  },
  evaluate: ({ board: { settings } }) => {
    if (settings === undefined) return refusal('the evidence does not say what the board is set to', 'Take it again.')
    return rules.map(({ key, broken }): Finding => {
      const found = broken((name) => settings[name] ?? 0)
      if (found === null) return { key, value: 'holds', unit: '', verdict: 'pass' }
      const { why, act, settings: write } = found
      return { key, value: why, unit: '', verdict: 'fail', remedy: { act, ...(write === undefined ? {} : { settings: write }) } }
    })
  },
})
