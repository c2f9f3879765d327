import type { FlashMap, Sheet, Signal } from '@taraf/contract'

type Part = NonNullable<Sheet['parts']>[number]

const light = (shows: string, means: string, tells?: Signal['tells']): Signal => ({
  by: 'light',
  shows,
  means,
  ...(tells === undefined ? {} : { tells }),
})
const tone = (shows: string, means: string): Signal => ({ by: 'tone', shows, means })

const receiverLights: Signal[] = [
  light('off', 'it has no power', 'no power'),
  light('blinking', 'it is bound to no transmitter', 'unbound'),
  light('blinking slowly', 'it does not hear the transmitter that it is bound to', 'unheard'),
  light('steady', 'it hears its transmitter', 'heard'),
  light('two quick blinks, again and again', 'it waits to be bound', 'binds'),
]

/** What the lights and tones of the demo's parts say, as their (made-up) makers tell it: by model. */
export const signalsByModel: Readonly<Record<string, Signal[]>> = {
  'Tideboard 4': [
    light('blinks slowly', 'it is ready to arm', 'ready'),
    light('blinks a number of times and pauses', 'it will not arm: as many reasons as blinks', 'refuses'),
    light('steady, and no sound from the motors', 'it waits in its loader for an image'),
    light('steady', 'it is armed', 'armed'),
    tone('three short tones', 'the signal is lost'),
    tone('one long tone, again and again', 'the pack is low'),
    tone('on and off', 'its sounder is switched on'),
  ],
  'Gannet R8': receiverLights,
  'Gannet R8D': receiverLights,
}

/** How the demo's receivers are bound, by model: in one step, or in two with the power off between. */
export const bindingByModel: Readonly<Record<string, NonNullable<Part['binding']>>> = {
  'Gannet R8': {
    steps: ['With the receiver powered and the transmitter on, hold its button until its light is steady.'],
  },
  'Gannet R8D': {
    steps: [
      'Put the jumper on the bind pins of the receiver; transmitter on, its model chosen.',
      'Hold its button until its light goes twice quickly, again and again.',
      'Take all power off, pull the jumper, and put power on again.',
      'Hold its button once more, until its light is steady.',
    ],
    putBack: 'Pull the jumper from the bind pins of the receiver.',
  },
}

/** Where images are in the flash of the demo's boards, by target. */
export const flashByTarget: Readonly<Record<string, FlashMap>> = {
  'TIDEBOARD-3': { start: 0x0800_4000, bytes: 496 * 1024, identityAt: 0x0800_4200, blockBytes: 512 },
  'TIDEBOARD-4': { start: 0x0800_8000, bytes: 2016 * 1024, identityAt: 0x0800_8200, blockBytes: 1024 },
}
