import type { Href } from 'expo-router'

export const sheetPath = (type: string, version: number, more = ''): Href =>
  `/sheets/${encodeURIComponent(type)}/${version}${more}` as Href
