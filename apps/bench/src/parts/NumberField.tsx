import { useState } from 'react'
import { Field } from './Field'

interface NumberFieldProps {
  readonly label: string
  readonly value: number | undefined
  readonly onChange: (value: number | undefined) => void
  readonly narrow?: boolean
  readonly whole?: boolean
}

/** A field for a number; what is no number yet stays as it was typed, and is said. */
export const NumberField = ({ label, value, onChange, narrow = true, whole = false }: NumberFieldProps) => {
  const [typed, setTyped] = useState<string | null>(null)
  const wrong =
    typed === null || typed.trim() === '' ? undefined : isNumber(typed, whole) ? undefined : whole ? 'a whole number' : 'a number'
  const change = (text: string) => {
    setTyped(text)
    if (text.trim() === '') onChange(undefined)
    else if (isNumber(text, whole)) onChange(numberOf(text))
  }
  const shown =
    typed !== null &&
    (wrong !== undefined || (numberOf(typed) === value && typed.trim() !== '') || (typed.trim() === '' && value === undefined))
  return (
    <Field
      label={label}
      value={shown ? typed : value === undefined ? '' : String(value)}
      onChange={change}
      narrow={narrow}
      {...(wrong === undefined ? {} : { wrong })}
    />
  )
}

/** A comma is a point to half of those who type. */
const numberOf = (text: string): number => Number(text.trim().replace(',', '.'))
const isNumber = (text: string, whole: boolean): boolean => {
  const value = numberOf(text)
  return Number.isFinite(value) && (!whole || Number.isInteger(value))
}
