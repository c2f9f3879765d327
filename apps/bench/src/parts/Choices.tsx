import { Act } from './Act'
import { Column, Row, Words } from './type'

interface ChoicesProps<T extends string> {
  readonly label: string
  readonly choices: readonly (readonly [value: T, words: string])[]
  readonly chosen: T | undefined
  readonly choose: (value: T) => void
}

/** One of a few, side by side. */
export const Choices = <T extends string>({ label, choices, chosen, choose }: ChoicesProps<T>) => (
  <Column role="group" aria-label={label} gap="$1">
    <Words kind="small">{label}</Words>
    <Row flexWrap="wrap" gap="$2">
      {choices.map(([value, words]) => (
        <Act key={value} label={words} selected={value === chosen} onPress={() => choose(value)} />
      ))}
    </Row>
  </Column>
)
