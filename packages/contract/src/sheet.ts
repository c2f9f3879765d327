import { z } from 'zod'
import { byName } from './byName'
import { socketUses } from './socketUses'

/** What a sheet may set instead of a default limit; its reason is part of the record. */
export const limitOverride = z
  .strictObject({ min: z.number().optional(), max: z.number().optional(), reason: z.string().min(3) })
  .refine((limit) => limit.min !== undefined || limit.max !== undefined, 'a limit needs a min or a max')

export const motorPosition = z.strictObject({
  tier: z.enum(['only', 'upper', 'lower']),
  output: z.int().min(1).max(12),
  turn: z.enum(['clockwise', 'anticlockwise']),
})

/** A limb of the frame: bearing clockwise from the nose, as seen from above. */
export const boom = z.strictObject({
  name: z.string().min(1),
  bearingDeg: z.number().min(-180).max(360),
  radiusM: z.number().positive().max(3),
  motors: z.array(motorPosition).min(1).max(2),
})

export const geometry = z.strictObject({
  booms: z.array(boom).min(3).max(12),
  body: z.strictObject({ lengthM: z.number().positive(), widthM: z.number().positive() }),
  propDiameterM: z.number().positive(),
})

const version = z.string().regex(/^\d+(\.\d+)*$/, 'a version is numbers parted by dots')
/** What may run on the board: what is approved, with the hash of its image where one is pinned, and what must not. */
export const sheetFirmware = z.strictObject({
  name: z.string().min(1),
  approved: z.array(z.strictObject({ version, sha256: z.hex().length(64).optional() })).min(1),
  bad: z.array(z.strictObject({ version, reason: z.string().min(3) })).optional(),
  features: z.array(z.string()).optional().describe('what the image must have been built with'),
})

/** Where an image is in the flash of a board, from its maker's data sheet: addresses, and bytes that are written at once. */
export const flashMap = z.strictObject({
  start: z.int().nonnegative(),
  bytes: z.int().positive(),
  identityAt: z.int().nonnegative(),
  blockBytes: z.int().positive(),
})

/** How a receiver stands with a transmitter: bound to none, bound to one that it does not hear, heard, waiting to be bound. */
export const linkTells = ['no power', 'unbound', 'unheard', 'heard', 'binds'] as const
/** How a board stands with being armed. */
export const armingTells = ['ready', 'refuses', 'armed'] as const
/** What a light or a tone of a part says. */
export const signal = z.strictObject({
  by: z.enum(['light', 'tone']),
  shows: z.string().min(1),
  means: z.string().min(1),
  tells: z
    .enum([...linkTells, ...armingTells])
    .optional()
    .describe('of a receiver: how it stands with its transmitter; of a board: how it stands with being armed'),
})

/** The flight controller board that the type is built with. */
export const sheetBoard = z.strictObject({
  target: z.string().min(1).describe('what the board says that it is'),
  sockets: z
    .array(z.strictObject({ socket: z.int().min(1).max(12), use: z.enum(socketUses) }))
    .refine((list) => new Set(list.map((s) => s.socket)).size === list.length, 'a socket is used twice'),
  firmware: sheetFirmware.optional(),
  flash: flashMap.optional().describe('where its images lie: without it none can be taken in'),
})

const pulse = z.int().min(800).max(2200)
/** Where a channel lies for something to be on, us; both ends count as in. */
export const switchBand = z.strictObject({ channel: z.int().min(5).max(16), from: pulse, to: pulse })
/** A function of the switch plan: on while its channel lies within the band, and a second one within its own where there are two. */
export const switchRow = z.strictObject({
  function: z.string().min(1),
  ...switchBand.shape,
  with: switchBand.optional().describe('a second condition: it is on only while both are met'),
  restriction: z.string().min(3).optional().describe('what a pilot must know before using it'),
  meant: z.string().min(3).optional().describe('why it may be without a switch'),
})
/** A switch of the transmitter that goes with the airframe. */
export const transmitterSwitch = z.strictObject({
  name: z.string().min(1),
  channel: z.int().min(5).max(16),
  positions: z.int().min(2).max(6),
  atPowerUp: z.int().min(1).max(6).describe('where it must be when power goes on, counted from 1'),
  alike: z.string().min(3).optional().describe('why two of its positions may do the same'),
})

/** The ESCs of a type: what they can do by their maker, what each is set to, and why a protection of theirs is off. */
export const sheetEscs = z.strictObject({
  understands: z.array(z.string().min(1)).min(1).describe('motor signals, as the board calls them'),
  settings: byName(z.number()).describe('what every one is set to, by name'),
  reasons: byName(z.string().min(3)).optional().describe('why a protection is off, by its name'),
  badWith: z
    .array(z.strictObject({ firmware: z.string().min(1), board: version, reason: z.string().min(3) }))
    .optional()
    .describe('firmware of these ESCs that is known to be bad with a version of the board’s'),
})

/** What turns on the booms: the motors by their maker's count of turns, and how the props of each hand are marked. */
export const sheetRotor = z.strictObject({
  kv: z.number().positive().max(20_000).optional().describe('of every motor, rpm for each volt, with no load'),
  hover: z
    .number()
    .min(0.05)
    .max(0.9)
    .optional()
    .describe('the collective command in hover, 0..1, at mid-pack voltage and with the payload of the sheet'),
  props: z
    .strictObject({ clockwise: z.string().min(1), anticlockwise: z.string().min(1) })
    .optional()
    .describe('the marks on the props, by the way that they turn as seen from above'),
  lower: z.enum(['puller', 'pusher']).optional().describe('how the props of lower motors sit; pusher where it is not said'),
})

/** The packs that the type flies on. */
export const sheetPack = z.strictObject({
  cells: z.int().min(1).max(14).describe('lithium cells in series'),
})

export const settingValue = z.number()
export const settings = z.record(z.string().regex(/^[a-z]+(\.[a-zA-Z0-9]+)+$/), settingValue)

export const sheet = z.strictObject({
  type: z.string().min(1),
  version: z.int().min(1),
  title: z.string().min(1),
  geometry,
  board: sheetBoard.optional(),
  settings,
  limits: byName(limitOverride),
  leavesOut: byName(z.string().min(3)).optional().describe('checks that this type does not need, by id, each with the reason'),
  setAside: z.array(z.string()).optional().describe('what older sheets leave out, without a reason'),
  asks: z.array(z.string()).optional().describe('checks that only some types need, by id'),
  fitted: z
    .array(z.enum(['compass', 'barometer', 'position']))
    .optional()
    .describe('sensors beside the imu'),
  parts: z
    .array(
      z.strictObject({
        part: z.string().min(1),
        model: z.string().min(1),
        count: z.int().min(1).max(24).default(1),
        signals: z.array(signal).optional().describe('what the lights and tones of this model say'),
        binding: z
          .strictObject({
            steps: z.array(z.string().min(3)).min(1).max(8).describe('what is done, in order'),
            putBack: z.string().min(3).optional().describe('what is moved for it and must be put back'),
          })
          .optional()
          .describe('of a receiver: how it is bound'),
      }),
    )
    .optional()
    .describe('what it is built from'),
  versions: z
    .array(z.strictObject({ part: z.string().min(1), approved: z.array(z.string().min(1)).min(1) }))
    .optional()
    .describe('parts beside the board that have firmware'),
  switchPlan: z.array(switchRow).optional(),
  switches: z.array(transmitterSwitch).optional(),
  pastBoard: z.array(z.strictObject({ channel: z.int().min(1).max(16), what: z.string().min(1) })).optional(),
  contents: z.array(z.string().min(1)).optional().describe('what is packed with it'),
  escs: sheetEscs.optional(),
  rotor: sheetRotor.optional(),
  pack: sheetPack.optional(),
  variantOf: z.strictObject({ type: z.string(), version: z.int().min(1) }).optional(),
  why: z.string().optional().describe('why this version was made'),
  hoverAmps: z.number().positive().optional().describe('what the airframe draws from its battery in hover, A'),
  home: z
    .strictObject({
      obstaclesM: z.number().nonnegative().max(1000).describe('the tallest of what may stand between it and its home, m'),
      mostHeightM: z.number().positive().max(1000).optional().describe('no higher than this, m; 120 where it is not said'),
      mostDistanceM: z.number().positive().optional().describe('no further from home than this, m'),
      below: z.string().min(1).describe('what is below on the way'),
    })
    .optional()
    .describe('what coming home by itself is held against'),
  indoors: z.boolean().optional().describe('the strength of the field is shown and not judged'),
})
/** The parts of a sheet that one check reads; `{}` stands for the default limits. */
export const sheetPart = sheet.partial()

/** A variant as it is written: what it says itself; the rest is its parent's. */
export const sheetVariant = sheet.partial().required({ type: true, title: true, variantOf: true })

export type Sheet = z.infer<typeof sheet>
export type SheetInput = z.input<typeof sheet>
export type SheetVariant = z.infer<typeof sheetVariant>
export type FlashMap = z.infer<typeof flashMap>
export type Signal = z.infer<typeof signal>
export type SheetFirmware = z.infer<typeof sheetFirmware>
export type LinkTells = (typeof linkTells)[number]
export type SwitchRow = z.infer<typeof switchRow>
export type SheetPart = z.infer<typeof sheetPart>
export type Geometry = z.infer<typeof geometry>
export type Settings = z.infer<typeof settings>
