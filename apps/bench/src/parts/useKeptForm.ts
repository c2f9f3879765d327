import { zodResolver } from '@hookform/resolvers/zod'
import { useEffect } from 'react'
import { useForm, type DefaultValues, type FieldValues } from 'react-hook-form'
import type { z } from 'zod'
import { useDraft } from '../store/useDraft'

/**
 * A form on a schema of the contract: what is wrong is said at its field once that was left, and what was entered is kept on this device
 * under a name until `forget`.
 */
export const useKeptForm = <Values extends FieldValues>(name: string, schema: z.ZodType<Values, Values>, empty: Values) => {
  const [draft, keep, forgetDraft] = useDraft<Values>(name, empty)
  const form = useForm<Values>({
    resolver: zodResolver(schema),
    defaultValues: draft as DefaultValues<Values>,
    mode: 'onTouched',
  })
  const { subscribe, reset } = form
  useEffect(
    () => subscribe({ formState: { values: true }, callback: ({ values }) => keep(values) }),
    // eslint-disable-next-line react-hooks/exhaustive-deps -- what keeps the draft is another function each time and does the same
    [subscribe],
  )
  return {
    ...form,
    forget: () => {
      reset(empty as DefaultValues<Values>)
      forgetDraft()
    },
  }
}
