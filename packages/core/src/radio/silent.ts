import type { LinkTells, Remedy, SheetPart, Work } from '@taraf/contract'
import { byHand } from '../check'
import { bindingOf } from './receiver'

const byItsSteps = (sheet: SheetPart): string =>
  `by ${bindingOf(sheet) === undefined ? "its maker's steps" : 'its steps, listed beside the reading'}.`

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
      return at(`The receiver is bound to no transmitter. Bind it ${byItsSteps(sheet)}`, ['bind receiver', 'replace receiver'])
    case 'unheard':
      return at(
        `The receiver does not hear the transmitter that it is bound to. Switch that one on and choose the model that it was bound with.${chosen} Where that does not help, bind it ${byItsSteps(sheet)}`,
        ['choose model', 'bind receiver', 'replace receiver'],
      )
    case 'heard':
      return at(
        `The receiver hears, and nothing of it reaches the board. Push its lead fully in at both ends${socket === undefined ? '' : `, the plug of socket ${socket} too, and compare its wires with the wiring sheet`}.`,
        ['plug receiver lead', ...(socket === undefined ? [] : (['reseat plug', 'move plug'] as const)), 'replace receiver'],
      )
    case 'binds':
      return at(`The receiver waits to be bound. Bind it ${byItsSteps(sheet)}`, ['bind receiver', 'replace receiver'])
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
