import type { TransmitterCard } from '@taraf/contract'
import { transmitterSettingName, transmitterValue } from '@taraf/core'
import { dateWords } from '../../parts/dates'
import { Column, Reading, Row, Words } from '../../parts/type'

/** What is set on a transmitter now, a row each. */
export const SetNow = ({ set, dated = false }: { set: TransmitterCard['set']; dated?: boolean }) => (
  <Column gap="$0" role="list" aria-label="Set on it">
    {set.map((one) => (
      <Row
        key={`${one.channel} ${one.name}`}
        role="listitem"
        justifyContent="space-between"
        flexWrap="wrap"
        columnGap="$3"
        rowGap="$0"
        paddingVertical="$1"
        borderBottomWidth={1}
        borderColor="$line"
      >
        <Column gap="$0" flexShrink={1}>
          <Words>{transmitterSettingName(one)}</Words>
          {dated && (
            <Words kind="small">
              {dateWords(one.at)}, {one.by}, on the card of {one.tag}
            </Words>
          )}
        </Column>
        <Reading>{transmitterValue(one.name, one.to)}</Reading>
      </Row>
    ))}
  </Column>
)
