import { useState } from 'react'

/** A number as it is being typed: what is no number yet stays as it was typed, and is said; a field that is emptied stays so until it is left. */
export const useTyped = (value: number | undefined, onChange: (value: number | undefined) => void, whole = false) => {
  const [typed, setTyped] = useState<string | null>(null)
  const wrong =
    typed === null || typed.trim() === '' ? undefined : isNumber(typed, whole) ? undefined : whole ? 'a whole number' : 'a number'
  const isAsTyped = typed !== null && (wrong !== undefined || typed.trim() === '' || numberOf(typed) === value)
  return {
    shown: isAsTyped ? typed : Number.isFinite(value) ? String(value) : '',
    wrong,
    left: () => setTyped((text) => (text?.trim() === '' ? null : text)),
    change: (text: string) => {
      setTyped(text)
      if (text.trim() === '') onChange(undefined)
      else if (isNumber(text, whole)) onChange(numberOf(text))
    },
  }
}

/** A comma is a point to half of those who type. */
const numberOf = (text: string): number => Number(text.trim().replace(',', '.'))
const isNumber = (text: string, whole: boolean): boolean => {
  const value = numberOf(text)
  return Number.isFinite(value) && (!whole || Number.isInteger(value))
}
