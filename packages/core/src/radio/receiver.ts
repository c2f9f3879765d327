import type { LinkTells, Remedy, SheetPart, Work } from '@taraf/contract'
import { byHand } from '../check'

/** The light of a receiver of which the sheet says nothing (common practice). */
const commonLights: readonly (readonly [shows: string, tells: LinkTells])[] = [
  ['off', 'no power'],
  ['blinking', 'unbound'],
  ['blinking slowly', 'unheard'],
  ['steady', 'heard'],
]

const receiverOf = ({ parts = [] }: SheetPart) => parts.find(({ part }) => part === 'receiver')

/** What the light of the receiver can show, and what each tells of its link: as its part lists it. */
export const lightsOf = (sheet: SheetPart): readonly (readonly [shows: string, tells: LinkTells])[] => {
  const listed = (receiverOf(sheet)?.signals ?? []).flatMap(({ by, shows, tells }) =>
    by === 'light' && tells !== undefined ? [[shows, tells] as const] : [],
  )
  return listed.length > 0 ? listed : commonLights
}

/** How the receiver is bound, as its part lists it. */
export const bindingOf = (sheet: SheetPart) => receiverOf(sheet)?.binding ?? null

const stepsOf = (sheet: SheetPart): string => {
  const steps = bindingOf(sheet)?.steps ?? ['Bind it by the steps that its maker gives.']
  return steps.length === 1 ? (steps[0] ?? '') : steps.map((step, i) => `${i + 1}. ${step}`).join(' ')
}

/** What there is to try, in order, where the receiver of a sheet sends nothing to the board; `tells` is what its light says of it. */
export const silentRemedy = (sheet: SheetPart, tells: LinkTells | null, model: number | null): Remedy => {
  const socket = sheet.board?.sockets.find(({ use }) => use === 'receiver')?.socket
  const at = (act: string, work: readonly Work[]): Remedy => ({
    by: 'work',
    act,
    work: [...work],
    ...(socket === undefined ? {} : { socket }),
  })
  const chosen = model === null ? '' : ` Model ${model} is chosen now.`
  switch (tells) {
    case 'no power':
      return byHand(
        'The receiver has no power: push its plug fully in, and plug the battery in where the cable does not feed it. Props off.',
      )
    case 'unbound':
      return at(`The receiver is bound to no transmitter. ${stepsOf(sheet)}`, ['bind receiver', 'replace receiver'])
    case 'unheard':
      return at(
        `The receiver does not hear the transmitter that it is bound to. Switch that one on and choose the model that it was bound with.${chosen} Where that does not help, bind it: ${stepsOf(sheet)}`,
        ['choose model', 'bind receiver', 'replace receiver'],
      )
    case 'heard':
      return at(
        `The receiver hears, and nothing of it reaches the board. Push its lead fully in at both ends${socket === undefined ? '' : `, the plug of socket ${socket} too, and compare its wires with the wiring sheet`}.`,
        ['plug receiver lead', ...(socket === undefined ? [] : (['reseat plug', 'move plug'] as const)), 'replace receiver'],
      )
    case 'binds':
      return at(`The receiver waits to be bound. ${stepsOf(sheet)}`, ['bind receiver', 'replace receiver'])
    case null:
      return at(
        `Nothing comes from the receiver. Switch the transmitter on, then look at the receiver's light. Blinking: choose its model on the transmitter, then bind it. Steady: push its lead${socket === undefined ? '' : ` and the plug of socket ${socket}`} fully in and compare its wires with the wiring sheet. Then replace it.`,
        [
          ...(socket === undefined ? [] : (['reseat plug', 'move plug'] as const)),
          'plug receiver lead',
          'choose model',
          'bind receiver',
          'replace receiver',
        ],
      )
  }
}
