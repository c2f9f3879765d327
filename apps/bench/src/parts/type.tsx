import { Text, styled, View } from '@tamagui/core'

/** Running text. */
export const Words = styled(Text, {
  name: 'Words',
  fontFamily: '$body',
  color: '$ink',
  fontSize: '$2',
  lineHeight: '$2',
  variants: {
    kind: {
      title: { fontSize: '$5', lineHeight: '$5', fontFamily: 'WordsBold', role: 'heading', 'aria-level': 1 },
      heading: { fontSize: '$3', lineHeight: '$3', fontFamily: 'WordsBold', role: 'heading', 'aria-level': 2 },
      strong: { fontFamily: 'WordsBold' },
      small: { fontSize: '$1', lineHeight: '$1', color: '$faint' },
      faint: { color: '$faint' },
    },
  } as const,
})

/** Measured values: figures that do not jump. */
export const Reading = styled(Text, {
  name: 'Reading',
  fontFamily: '$readings',
  fontVariant: ['tabular-nums'],
  color: '$ink',
  fontSize: '$2',
  lineHeight: '$2',
  variants: {
    size: {
      small: { fontSize: '$1', lineHeight: '$1' },
      large: { fontSize: '$4', lineHeight: '$4' },
      decides: { fontSize: '$6', lineHeight: '$6' },
    },
  } as const,
})

export const Column = styled(View, { name: 'Column', flexDirection: 'column', gap: '$2' })
/** Columns of a wide screen, one under the other on a phone. */
export const Beside = styled(View, {
  name: 'Beside',
  flexDirection: 'column',
  gap: '$5',
  $wide: { flexDirection: 'row', alignItems: 'flex-start' },
})
export const Row = styled(View, { name: 'Row', flexDirection: 'row', gap: '$2', alignItems: 'center' })

/** A raised sheet of paper. */
export const Paper = styled(View, {
  name: 'Paper',
  backgroundColor: '$sheet',
  borderWidth: 1,
  borderColor: '$line',
  borderRadius: '$1',
  padding: '$4',
  gap: '$3',
  flexDirection: 'column',
})
