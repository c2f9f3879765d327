import type { FlashMap, Signal } from '@taraf/contract'

const light = (shows: string, means: string): Signal => ({ by: 'light', shows, means })
const tone = (shows: string, means: string): Signal => ({ by: 'tone', shows, means })

/** What the lights and tones of the demo's parts say, as their (made-up) makers tell it: by model. */
export const signalsByModel: Readonly<Record<string, Signal[]>> = {
  'Tideboard 4': [
    light('blinks slowly', 'it is ready to arm'),
    light('blinks a number of times and pauses', 'it will not arm: as many reasons as blinks'),
    light('steady, and no sound from the motors', 'it waits in its loader for an image'),
    light('steady', 'it is armed'),
    tone('three short tones', 'the signal is lost'),
    tone('one long tone, again and again', 'the pack is low'),
    tone('on and off', 'its sounder is switched on'),
  ],
  'Gannet R8': [
    light('off', 'it has no power'),
    light('blinking', 'it hears no transmitter'),
    light('steady', 'it hears its transmitter'),
    light('two quick blinks, again and again', 'it waits to be bound'),
  ],
}

/** Where images lie in the flash of the demo's boards, by target. */
export const flashByTarget: Readonly<Record<string, FlashMap>> = {
  'TIDEBOARD-3': { start: 0x0800_4000, bytes: 496 * 1024, identityAt: 0x0800_4200, blockBytes: 512 },
  'TIDEBOARD-4': { start: 0x0800_8000, bytes: 2016 * 1024, identityAt: 0x0800_8200, blockBytes: 1024 },
}
