import type { Sampled, Settings, SheetPart, Want, WantOf } from '@taraf/contract'
import { isOfArming } from '../arming/rules'
import { defineCheck } from '../check'
import { hoverOf } from '../hover/known'
import { hoverWords } from '../hover/words'
import { onTheWay } from '../radio/sticks'
import { canBeArmed } from '../sheetHas'
import { modeName } from '../switches/modeName'
import { want, type Got } from '../take'
import {
  allOff,
  armedIn,
  back,
  endsItself,
  fixedFirst,
  gone,
  notActed,
  notEnded,
  readyFor,
  taken,
  tried,
  underSky,
} from './losing'
import { armLabel, lossesOf, needsFix, type Loss } from './losses'
import { isPlanned, responseFindings } from './responseFindings'

/** The signal is taken away and comes back, in one step: nothing of it may be between two. */
const losing = ({ id, from, by }: Loss, endsS: number): WantOf<'watch'> => {
  const words = `${back[by]}, sticks as they are.`
  switch (from) {
    case 'half':
      return {
        kind: 'watch',
        ...taken,
        label: id,
        ask: `Throttle just over the middle. Then ${gone[by]}, and wait.`,
        during: 'Armed: take the signal away, wait, and give it back as the step says',
        onlyAfter: 'loss:wait',
        then: [{ event: 'loss:act', words: `It acts. Look at the motors for two seconds, then: ${words.toLowerCase()}` }],
        afterS: 0.4,
      }
    case 'idle':
      return {
        kind: 'watch',
        ...taken,
        label: id,
        seconds: 60 + endsS,
        ask: `Throttle down. Then ${gone[by]}, and wait until it is disarmed.`,
        during: 'Armed: take the signal away, wait until it is disarmed, and give it back',
        onlyAfter: 'loss:wait',
        then: [{ event: 'disarmed', words: `It is disarmed. ${words} Keep away from the motors: none may start.` }],
        afterS: 1,
      }
    case 'disarmed':
      return {
        kind: 'watch',
        ...taken,
        label: id,
        ask: `Leave it disarmed, throttle just over the middle. Then ${gone[by]}, and wait.`,
        during: 'Disarmed: take the signal away, wait, and give it back as the step says',
        onlyAfter: 'loss:wait',
        then: [{ event: 'loss:wait', words: `The board knows. Wait for two seconds, then: ${words.toLowerCase()}` }],
        afterS: 1,
      }
  }
}

const wantsFix = ({ from, mode }: Loss): boolean => from !== 'disarmed' && needsFix(mode)
/** The arming, where it is armed for it, and the loss. */
const tries = (sheet: SheetPart, loss: Loss, settings: Settings = {}): WantOf<'watch'>[] => [
  ...(loss.from === 'disarmed' ? [] : [armedIn(sheet, armLabel(loss.id), loss.mode)]),
  losing(loss, Math.max(30, sheet.settings?.['loss.end'] ?? 0, settings['loss.end'] ?? 0)),
]
const steps = (sheet: SheetPart): Sampled[] =>
  lossesOf(sheet).flatMap((loss) => [...(wantsFix(loss) ? [underSky(armLabel(loss.id))] : []), ...tries(sheet, loss)])

/** Why a step proves nothing, or null. */
const whyNot = ({ label }: WantOf<'watch'>) => (label.startsWith('half-') ? notActed : label === 'idle' ? notEnded : () => null)

/** One loss, from its arming on: whether there is something to go on with. */
function* triedIn(sheet: SheetPart, loss: Loss, settings?: Settings): Generator<Want, boolean, Got> {
  if (wantsFix(loss) && !(yield* fixedFirst(sheet, armLabel(loss.id)))) return false
  for (const step of tries(sheet, loss, settings)) {
    const isHalf = step.label.startsWith('half-')
    const isWhole = yield* tried(step, whyNot(step), ({ events = [] }) => isHalf && endsItself(events))
    // What is not armed, or never comes back, has nothing more to show.
    if (!isWhole) return false
  }
  return true
}

const words = (sheet: SheetPart): Record<string, string> => ({
  ...hoverWords,
  ...Object.fromEntries(
    lossesOf(sheet).flatMap(({ id, from, mode }) => {
      const of = from === 'half' ? `Above half throttle, ${modeName(mode)}` : from === 'idle' ? 'From idle' : 'Disarmed'
      return [
        [`${id}.notice`, `${of}: noticed after`],
        [`${id}.wait`, `${of}: waited for`],
        [`${id}.mode`, `${of}: mode that it went into`],
        [`${id}.command`, `${of}: command`],
        [`${id}.back`, `${of}: sticks count again after`],
        [`${id}.jump`, `${of}: jump as they do`],
        [`${id}.end`, `${of}: at its end`],
        [`${id}.after`, `${of}: once the signal is back`],
        [`${id}.outputs`, `${of}: outputs`],
        [`${id}.lift`, `${of}: held up while it acts`],
        [`${id}.lasts`, `${of}: acts for`],
        [`${id}.account`, `${of}: motors, moment by moment`],
      ]
    }),
  ),
})

/** The signal is taken away on the bench, in every class of loss: what the board does is timed and measured. */
export const response = defineCheck({
  id: 'failsafe.response',
  version: 5,
  station: 'failsafe',
  title: 'Loss of signal',
  proves: 'Whenever the signal goes it is noticed, acted on below hover, and given back without a jump.',
  words,
  needs: ['radio.link', 'switches.table', 'motors.response', 'arming.disarms', 'arming.idle'],
  reads: {
    settings: [
      // What a command lifts, how far the outputs go, and which motors are driven at all.
      'motors.idle',
      'motors.most',
      'motors.turnWhenArmed',
      'loss.*',
      'arm.*',
      'switch.arm.*',
      'radio.throttle.*',
      // Whether the outputs jump as the sticks count again.
      'gain.*',
      'output.*',
      // What holds a height begins at it.
      'rotor.hover',
    ],
    parts: ['board', 'ESC', ...onTheWay, 'receiver at loss', 'receiver antenna'],
    acts: ['board', 'remount', 'transmitter'],
    onTransmitter: isOfArming(false),
    image: true,
    escs: ['*'],
    hover: true,
  },
  appliesTo: canBeArmed,
  stages: null,
  *take({ sheet, settings }) {
    yield* want.state(readyFor(sheet))
    for (const loss of lossesOf(sheet)) if (!(yield* triedIn(sheet, loss, settings))) break
    yield* want.state(allOff)
  },
  stepsOf: (evidence) =>
    isPlanned(evidence)
      ? // What was not tried is said by name.
        steps(evidence.sheet).filter(({ label }) => evidence.segments.some((segment) => segment.label === label))
      : evidence.segments.map(({ label }) => ({ kind: 'watch', ...taken, label, ask: 'Take the signal away.' })),
  evaluate: (evidence) => responseFindings(evidence),
  opens: (evidence) =>
    hoverOf(evidence) === null
      ? [{ what: 'open', words: 'Nobody knows the command in hover: the command at loss was not judged.', blocks: true }]
      : [],
})
