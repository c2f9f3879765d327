import type { BuiltPart, Sheet } from '@taraf/contract'
import { Field } from '../parts/Field'
import { Column, Row, Words } from '../parts/type'

interface PartsFormProps {
  readonly wanted: NonNullable<Sheet['parts']>
  readonly parts: readonly BuiltPart[]
  readonly change: (parts: BuiltPart[]) => void
}

/** Serial and lot of each part that the sheet names; left empty where the part shows none. */
export const PartsForm = ({ wanted, parts, change }: PartsFormProps) => {
  const set = (part: string, model: string, news: Partial<BuiltPart>) => {
    const before = parts.find((p) => p.part === part) ?? { part, model, serial: null, lot: null }
    const now = { ...before, ...news }
    const rest = parts.filter((p) => p.part !== part)
    change(now.serial === null && now.lot === null ? rest : [...rest, now])
  }
  const textOf = (value: string) => (value.trim() === '' ? null : value.trim())
  return (
    <Column>
      {wanted.map(({ part, model }) => {
        const found = parts.find((p) => p.part === part)
        return (
          <Column key={part} gap="$1">
            <Words kind="small">
              {part}, {model}
            </Words>
            <Row>
              <Field
                narrow
                label={`Serial of the ${part}`}
                value={found?.serial ?? ''}
                onChange={(text) => set(part, model, { serial: textOf(text) })}
              />
              <Field
                narrow
                label={`Lot of the ${part}`}
                value={found?.lot ?? ''}
                onChange={(text) => set(part, model, { lot: textOf(text) })}
              />
            </Row>
          </Column>
        )
      })}
    </Column>
  )
}
