import type { SheetRow } from '@taraf/contract'
import { useRouter } from 'expo-router'
import { Act } from '../parts/Act'
import { dateWords } from '../parts/dates'
import { sheetPath } from './sheetPath'

export const OpenSheet = ({ row }: { row: SheetRow }) => {
  const router = useRouter()
  return <Act label="Open" named={`Open ${row.type}`} onPress={() => router.push(sheetPath(row.type, row.version))} />
}

/** When a version was made, by whom and why. */
export const madeWords = ({ madeAt, madeBy, why, variantOf }: SheetRow): string =>
  [
    `${dateWords(madeAt)}${madeBy === null ? '' : ` by ${madeBy}`}${why === null ? '' : `: ${why}`}`,
    ...(variantOf === null ? [] : [`a variant of ${variantOf}`]),
  ].join('; ')
