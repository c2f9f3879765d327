import type { Question, SheetPart } from '@taraf/contract'
import { byHand, defineCheck } from '../check'
import { findingsOfList } from '../questions'
import { hasBoard } from '../sheetHas'
import { want } from '../take'

const questionsOf = (sheet: SheetPart): Question[] => {
  const booms = sheet.geometry?.booms ?? []
  const all = booms.map((b) => b.name)
  const uses = sheet.board?.sockets.map((s) => s.use) ?? []
  const video: Question[] = [
    {
      id: 'videoAntenna',
      words: 'The antenna of the video transmitter is fitted.',
      why: 'Powered without it, the transmitter burns its output out within a minute.',
      answer: 'so',
      remedy: byHand('Fit the video antenna before any power.', ['fit video antenna']),
    },
  ]
  return [
    {
      id: 'propsOff',
      words: 'Props are off, and their nuts too.',
      why: 'A nut left on a shaft is thrown by the first motor that turns.',
      answer: 'so',
      booms: all,
      remedy: byHand('Take every prop and every nut off.'),
    },
    {
      id: 'flags',
      words: 'A flag of tape is on each motor.',
      why: 'Which way a motor turns is seen by its flag as it slows.',
      answer: 'so',
      booms: all,
      remedy: byHand('Put a flag of tape on each bell, all the same way round.'),
    },
    ...(uses.includes('video') ? video : []),
    {
      id: 'plugs',
      words: 'Every plug is fully in, pinned as on the wiring sheet.',
      why: 'A pin in the next hole feeds 5 V into a signal.',
      answer: 'so',
      remedy: byHand('Push it fully in, or move its pins to where the wiring sheet has them.'),
    },
    {
      id: 'antennas',
      words: 'The receiver’s antennas are placed, clear of props and carbon.',
      why: 'Carbon shadows them; a prop cuts them.',
      answer: 'so',
      remedy: byHand('Place them as the sheet shows, and tie them down.'),
    },
    {
      id: 'leads',
      words: 'Leads are tied, none is pinched or rubs, all screws are there.',
      why: 'What can rub through does, and what can reach a prop does.',
      answer: 'so',
      remedy: byHand('Tie, sleeve or re-route it; put the screws in.'),
    },
    {
      id: 'threads',
      words: `Nut threads tighten as the motor turns: ${threads(booms)}.`,
      why: 'A nut that the motor loosens as it turns comes off in flight.',
      answer: 'so',
      booms: all,
      remedy: byHand('Swap the motor or the nut, so that the turn tightens it.', ['replace motor']),
    },
    {
      id: 'feeds',
      words: 'Board and receiver are powered from the rail on the wiring sheet.',
      why: 'A receiver on the wrong rail fails together with everything else on it.',
      answer: 'so',
      remedy: byHand('Connect them to the rail on the wiring sheet.'),
    },
    {
      id: 'motors',
      words: 'Each bell turns freely by hand: none rubs, none is bent.',
      why: 'A bent bell grows hot and shakes the frame.',
      answer: 'so',
      booms: all,
      remedy: byHand('Replace the motor that rubs.', ['replace motor']),
    },
    {
      id: 'cover',
      words: 'The cover closes without crushing anything.',
      why: 'A crushed lead fails in the cold, when it shrinks.',
      answer: 'so',
      remedy: byHand('Re-route what is crushed.'),
    },
    {
      id: 'buttons',
      words: 'Socket, bind and loader buttons can be reached with the cover closed.',
      why: 'If they cannot, the cover must stay off until those stations are done.',
      answer: ['all of them', 'not all: the cover stays off until the end'],
    },
  ]
}

const threads = (booms: NonNullable<SheetPart['geometry']>['booms']): string =>
  (['clockwise', 'anticlockwise'] as const)
    .flatMap((turn) => {
      const names = booms.flatMap((b) => b.motors.filter((m) => m.turn === turn).map(() => b.name))
      return names.length === 0
        ? []
        : [`${turn === 'clockwise' ? 'left-hand' : 'right-hand'} on ${[...new Set(names)].join(', ')}`]
    })
    .join('; ')

/** What is seen before any power: the list of the intake, each item with its reason. */
export const byEye = defineCheck({
  id: 'intake.byEye',
  version: 1,
  station: 'intake',
  title: 'By eye',
  proves: 'Everything that has to be looked at or felt is right before power goes on.',
  needs: [],
  reads: { settings: [], parts: ['motor', 'video antenna', 'receiver', 'sockets', 'power wiring'], acts: [], image: false },
  appliesTo: hasBoard,
  stages: null,
  *take({ sheet }) {
    yield* want.answers({
      label: 'list',
      ask: 'No cable, no battery. Look at each and say what you see; a photo where it will be hidden.',
      questions: questionsOf(sheet),
    })
  },
  opens: (evidence) => [
    { what: 'put back', words: 'Take the flags of tape off the motors.', blocks: true },
    { what: 'put back', words: 'Put the nuts back on their shafts, or bag them with the props.', blocks: true },
    ...(evidence.observations?.some((o) => o.item === 'buttons' && String(o.answer).startsWith('not all')) === true
      ? [{ what: 'put back', words: 'Close the cover: buttons behind it were still needed.', blocks: true } as const]
      : []),
  ],
  evaluate: (evidence) => findingsOfList(questionsOf(evidence.sheet), evidence),
})
