import type { ComponentProps } from 'react'
import { useController, type Control, type FieldPath, type FieldValues } from 'react-hook-form'
import { Field } from './Field'

interface FormFieldProps<Values extends FieldValues> extends Omit<ComponentProps<typeof Field>, 'value' | 'onChange' | 'wrong'> {
  readonly control: Control<Values>
  readonly name: FieldPath<Values>
}

/** A field of a form: its value, and what is wrong with it. */
export const FormField = <Values extends FieldValues>({ control, name, ...rest }: FormFieldProps<Values>) => {
  const { field, fieldState } = useController({ control, name })
  const wrong = fieldState.error?.message
  return (
    <Field
      {...rest}
      value={String(field.value ?? '')}
      onChange={field.onChange}
      onBlur={field.onBlur}
      {...(wrong === undefined ? {} : { wrong })}
    />
  )
}
