import type { Want } from '@taraf/contract'
import type { Rig } from '@taraf/rig'
import { type Disturbance, type Target, hasStream, passing, atBoard } from './disturbance'

export const someEsc = (rig: Rig, { row }: Target) => {
  const drives = rig.airframe.drives.flatMap((drive) => (drive === null ? [] : [drive.esc]))
  return drives[row % drives.length]
}
const isRead = (want: Want): boolean => want.kind === 'reports' && want.of.includes('escs')

/** What can go wrong while ESCs are read and listened to. */
export const atTheEscs: readonly Disturbance[] = [
  {
    id: 'the plug of an ESC works loose',
    at: isRead,
    meddle: atBoard((rig, target) => void Object.assign(someEsc(rig, target) ?? {}, { plug: 'silent' })),
  },
  {
    id: 'an ESC set from elsewhere',
    at: isRead,
    meddle: atBoard((rig, target) => {
      const esc = someEsc(rig, target)
      if (esc === undefined) return
      esc.settings = { ...esc.settings, timingDeg: 4 }
      esc.saved = { ...esc.settings }
    }),
  },
  {
    id: 'replies of an ESC lost for a moment',
    at: hasStream('escs'),
    meddle: passing(
      0.5,
      (rig, target) => void Object.assign(someEsc(rig, target) ?? {}, { replyErrors: 1 }),
      (rig, target) => void Object.assign(someEsc(rig, target) ?? {}, { replyErrors: 0.0005 }),
    ),
  },
]
