import type { Finding, Sheet } from '@taraf/contract'
import { View } from '@tamagui/core'
import { Column, Reading, Words } from '../../parts/type'
import { switchColumns, type SwitchColumns } from './switchColumns'

/** The switch plan as tables: positions across, functions down, the measured pulse in its cell. */
export const SwitchTables = ({ sheet, findings }: { sheet: Sheet; findings: readonly Finding[] }) => (
  <Column gap="$4">
    {switchColumns(sheet, findings).map((columns) => (
      <OneSwitch key={columns.name} columns={columns} />
    ))}
  </Column>
)

const OneSwitch = ({ columns: { name, channel, positions, functions } }: { columns: SwitchColumns }) => {
  const hasModes = positions.some(({ mode }) => mode !== null)
  return (
    <Column gap="$0" role="table" aria-label={`Switch ${name}`}>
      <Line
        head={`Switch ${name}, ch ${channel}`}
        cells={positions.map((_, p) => ({ text: `${p + 1}`, kind: 'head' as const }))}
        isHead
      />
      <Line
        head="measured, us"
        cells={positions.map(({ us }) => ({ text: us === null ? '–' : us.toFixed(0), kind: 'value' as const }))}
      />
      {functions.map(({ name: of, band, on }) => (
        <Line
          key={`${of} ${band}`}
          head={of}
          small={band}
          cells={on.map((isOn, p) => ({
            text: isOn === null ? '' : isOn ? (positions[p]?.us?.toFixed(0) ?? '') : '·',
            kind: isOn === true ? ('on' as const) : ('off' as const),
          }))}
        />
      ))}
      {hasModes && (
        <Line head="mode reported" cells={positions.map(({ mode }) => ({ text: mode ?? '–', kind: 'words' as const }))} />
      )}
    </Column>
  )
}

interface Cell {
  readonly text: string
  readonly kind: 'head' | 'value' | 'on' | 'off' | 'words'
}

const Line = ({
  head,
  small,
  cells,
  isHead = false,
}: {
  head: string
  small?: string
  cells: readonly Cell[]
  isHead?: boolean
}) => (
  <View
    role="row"
    flexDirection="row"
    alignItems="center"
    gap="$2"
    minHeight={32}
    borderBottomWidth={1}
    borderColor={isHead ? '$mark' : '$line'}
  >
    <Column gap="$0" flex={1} minWidth={0} role={isHead ? 'columnheader' : 'rowheader'}>
      <Words kind={isHead ? 'strong' : undefined}>{head}</Words>
      {small !== undefined && <Words kind="small">{small} us</Words>}
    </Column>
    {cells.map(({ text, kind }, p) => (
      <View key={p} role={isHead ? 'columnheader' : 'cell'} width={60} alignItems="flex-end">
        {kind === 'words' ? (
          <Words kind="small">{text}</Words>
        ) : (
          <Reading color={kind === 'off' ? '$faint' : kind === 'on' ? '$tide' : '$ink'}>{text}</Reading>
        )}
      </View>
    ))}
  </View>
)
