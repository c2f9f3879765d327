import { linkTells, type LinkTells, type SheetPart } from '@taraf/contract'

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
    by === 'light' && isOfLink(tells) ? [[shows, tells] as const] : [],
  )
  return listed.length > 0 ? listed : commonLights
}

const isOfLink = (tells: string | undefined): tells is LinkTells => (linkTells as readonly unknown[]).includes(tells)

/** How the receiver is bound, as its part lists it. */
export const bindingOf = (sheet: SheetPart) => receiverOf(sheet)?.binding ?? null
