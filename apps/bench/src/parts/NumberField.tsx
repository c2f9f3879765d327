import { Field } from './Field'
import { useTyped } from './useTyped'

interface NumberFieldProps {
  readonly label: string
  readonly value: number | undefined
  readonly onChange: (value: number | undefined) => void
  readonly narrow?: boolean
  readonly whole?: boolean
  readonly place?: string
}

/** A field for a number; what is no number yet stays as it was typed, and is said. */
export const NumberField = ({ label, value, onChange, narrow = true, whole = false, place }: NumberFieldProps) => {
  const { shown, wrong, change, left } = useTyped(value, onChange, whole)
  const told = { ...(wrong === undefined ? {} : { wrong }), ...(place === undefined ? {} : { place }) }
  return <Field label={label} value={shown} onChange={change} onBlur={left} narrow={narrow} {...told} />
}
