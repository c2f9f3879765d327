import { View, styled } from '@tamagui/core'
import { Words } from './type'

const Frame = styled(View, {
  name: 'Act',
  role: 'button',
  tabIndex: 0,
  minHeight: 48,
  maxWidth: '100%',
  paddingHorizontal: '$4',
  paddingVertical: '$1',
  borderRadius: '$2',
  borderWidth: 1,
  alignItems: 'center',
  justifyContent: 'center',
  cursor: 'pointer',
  focusVisibleStyle: { outlineWidth: 3, outlineStyle: 'solid', outlineColor: '$tide', outlineOffset: 2 },
  variants: {
    kind: {
      main: { backgroundColor: '$tide', borderColor: '$tide', minHeight: 64 },
      plain: { backgroundColor: '$sheet', borderColor: '$tide' },
      quiet: { backgroundColor: 'transparent', borderColor: 'transparent', paddingHorizontal: '$2' },
    },
    chosen: { true: { backgroundColor: '$tide' } },
    off: { true: { opacity: 0.45, cursor: 'default' } },
    // As wide as its words at least: in a row that wraps, what does not fit goes to the next line.
    grow: { true: { flexGrow: 1, flexShrink: 1, flexBasis: 'auto' } },
  } as const,
})

export interface ActProps {
  readonly label: string
  readonly onPress: () => void
  readonly kind?: 'main' | 'plain' | 'quiet'
  readonly off?: boolean
  readonly grow?: boolean
  /** The key that does the same, shown beside the words on a wide screen. */
  readonly hotkey?: string
  readonly selected?: boolean
  /** Whether what it unfolds is open. */
  readonly expanded?: boolean
  /** What it is called where its label alone would not tell it from its neighbours. */
  readonly named?: string
}

/** One thing to do: a button of at least 48 px, 64 px for the main one. */
export const Act = ({
  label,
  onPress,
  kind = 'plain',
  off = false,
  grow = false,
  hotkey,
  selected,
  expanded,
  named,
}: ActProps) => (
  <Frame
    kind={kind}
    chosen={selected === true && kind === 'plain'}
    off={off}
    grow={grow}
    aria-disabled={off}
    aria-label={named ?? label}
    {...(selected === undefined ? {} : { 'aria-pressed': selected })}
    {...(expanded === undefined ? {} : { 'aria-expanded': expanded })}
    aria-keyshortcuts={hotkey}
    onPress={() => !off && onPress()}
    onKeyDown={(event: { key: string; preventDefault: () => void }) => {
      if (event.key !== 'Enter' && event.key !== ' ') return
      event.preventDefault()
      if (!off) onPress()
    }}
  >
    <Words
      kind="strong"
      textAlign="center"
      color={kind === 'main' || (selected === true && kind === 'plain') ? '$onTide' : '$tide'}
      textDecorationLine={selected === true && kind === 'quiet' ? 'underline' : 'none'}
    >
      {label}
    </Words>
  </Frame>
)
