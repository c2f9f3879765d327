import type { Settings } from '@taraf/contract'
import { frameUs } from '../escs/frame'
import { hertz } from './hertz'

/** What is wrong, what to do, and what to write where that can be told; `at` names the setting where it is not the first of the rule. */
interface Broken {
  readonly why: string
  readonly act: string
  readonly settings?: Settings
  readonly at?: string
}
/** A rule between settings: what is wrong with them, or null where it holds. */
interface Rule {
  readonly key: string
  readonly broken: (s: (name: string) => number, board: BoardWords) => Broken | null
}
/** What the board calls the choices of a setting: the one in force, and all. */
interface BoardWords {
  readonly word: (name: string) => string
  readonly choices: (name: string) => readonly string[]
}
/** Settings whose number is one of the board's own choices: without its words for them nothing can be told. */
export const wantsWords = ['loss.act', 'esc.signal', 'loop.rate'] as const

/** Further above the low gate than this, a throttle that lifts it counts as down (common practice). */
const farAboveUs = 100

const numbers = (n: number) => Array.from({ length: n }, (_, i) => i + 1)
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
    broken: (s, { word, choices }) =>
      word('loss.act') === 'return home' && s('position.use') === 0
        ? {
            why: 'a lost signal is to bring it home while the position receiver is off',
            act: 'Switch the position receiver on, or set the act at signal loss to descend.',
            ...(choices('loss.act').includes('descend')
              ? { settings: { 'loss.act': choices('loss.act').indexOf('descend') } }
              : {}),
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
        at: `output.${on[1] ?? 0}.position`,
      }
    },
  },
  {
    key: 'socketTwice',
    broken: (s, { word }) => {
      const used = numbers(6).map((n) => s(`socket.${n}.use`))
      const twice = used.find((u, i) => u > 0 && used.indexOf(u) !== i)
      if (twice === undefined) return null
      const on = numbers(6).filter((n) => used[n - 1] === twice)
      return {
        why: `sockets ${on.join(' and ')} are both for the ${word(`socket.${on[0] ?? 0}.use`)}`,
        act: 'Free the socket that nothing is plugged into.',
        at: `socket.${on[1] ?? 0}.use`,
      }
    },
  },
  {
    key: 'signalPeriod',
    broken: (s, { word, choices }) => {
      const [signal, loopHz] = [word('esc.signal'), choices('loop.rate').map(hertz)]
      const loop = loopHz[s('loop.rate')] ?? 0
      const wholeUs = frameUs(signal, s('esc.replies') === 1)
      if (wholeUs <= 1e6 / loop) return null
      const slower = loopHz.findLastIndex((hz) => wholeUs <= 1e6 / hz)
      return {
        why: `a command on ${signal} takes ${wholeUs.toFixed(0)} us, the loop asks for one every ${(1e6 / loop).toFixed(0)} us`,
        act: slower < 0 ? 'Choose a faster motor signal.' : 'Choose a faster motor signal or a slower loop.',
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
            act: 'Set the arming gate to the low gate of the throttle.',
            settings: { 'arm.throttleMost': s('radio.lowGate') },
          }
        : null,
  },
  {
    key: 'gates',
    broken: (s) =>
      // A board that has no such setting says zero.
      s('radio.lowGate') >= s('radio.highGate') && s('radio.highGate') > 0
        ? {
            why: `gates that cannot agree: the low one, ${s('radio.lowGate')}, is not below the high one, ${s('radio.highGate')}`,
            act: 'Set the low gate of the sticks below the high one.',
          }
        : null,
  },
  {
    key: 'armingHigh',
    broken: (s) =>
      s('arm.throttleMost') > s('radio.lowGate') + farAboveUs && s('radio.lowGate') > 0
        ? {
            why: `throttle counts as down up to ${s('arm.throttleMost')} us while its low end is met at ${s('radio.lowGate')} us: it arms with throttle up, and disarms itself in the air`,
            act: 'Set the arming gate to the low gate of the throttle.',
            settings: { 'arm.throttleMost': s('radio.lowGate') },
          }
        : null,
  },
  {
    key: 'idle',
    broken: (s) =>
      s('motors.idle') >= s('motors.most') && s('motors.most') > 0
        ? {
            why: `idle is ${s('motors.idle')} of full thrust while the most is ${s('motors.most')}: throttle could change nothing`,
            act: 'Set the idle of the motors below their most.',
          }
        : null,
  },
  {
    key: 'warnings',
    broken: (s) =>
      s('power.lowCell') >= s('power.warnCell')
        ? {
            why: `the second warning comes at ${s('power.lowCell')} V per cell, not under the first at ${s('power.warnCell')} V`,
            act: 'Set the second warning to a lower voltage than the first.',
          }
        : null,
  },
]

/** Of these there are as many as a board has; one that is not said is not used. */
const unsaidIsUnused = /^(output|socket|switch)\./

/**
 * The rules that a sheet's own settings break, on a board whose others are as given. A rule that asks for one that nobody says cannot be
 * broken yet, and one that asks for none of the sheet's is no fault of it. `at` is the setting of the sheet that it is broken at.
 */
export const brokenRules = (
  own: Settings,
  others: Settings,
  choices: Readonly<Record<string, readonly string[]>>,
): { readonly at: string; readonly why: string; readonly act: string }[] => {
  const settings = { ...others, ...own }
  const words = wordsOf(settings, choices)
  return rules.flatMap(({ broken }) => {
    const asked: string[] = []
    const value = (name: string) => {
      asked.push(name)
      return settings[name] ?? 0
    }
    const asking = { ...words, word: (name: string) => (asked.push(name), words.word(name)) }
    const found = broken(value, asking)
    if (found === null || !asked.every((name) => settings[name] !== undefined || unsaidIsUnused.test(name))) return []
    const at = [found.at ?? '', ...asked].find((name) => own[name] !== undefined)
    return at === undefined ? [] : [{ at, why: found.why, act: found.act }]
  })
}

export const wordsOf = (settings: Settings, choices: Readonly<Record<string, readonly string[]>>): BoardWords => ({
  choices: (name) => choices[name] ?? [],
  word: (name) => choices[name]?.[settings[name] ?? 0] ?? '',
})
