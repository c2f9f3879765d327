import type { Sheet } from '@taraf/contract'
import { signalsOf } from '@taraf/core'
import { Column, Row, Words } from './type'

/** What the lights and tones of the parts that are built in mean; of one part where it is named. */
export const Signals = ({ sheet, part }: { sheet: Sheet; part?: string }) => {
  const found = signalsOf(sheet, part)
  if (found.length === 0) return null
  return (
    <Column gap="$2" role="region" aria-label="Lights and tones">
      {found.map(({ part: of, model, signals }) => (
        <Column key={of} gap="$1">
          <Words kind="small">
            Lights and tones of the {of}, {model}
          </Words>
          {signals.map(({ by, shows, means }) => (
            <Row
              key={`${by}${shows}`}
              justifyContent="space-between"
              flexWrap="wrap"
              borderBottomWidth={1}
              borderColor="$line"
              rowGap="$0"
            >
              <Words>
                {by}: {shows}
              </Words>
              <Words kind="small">{means}</Words>
            </Row>
          ))}
        </Column>
      ))}
    </Column>
  )
}
