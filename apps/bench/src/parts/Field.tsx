import { useId, type ReactNode, type Ref } from 'react'
import { TextInput, type TextInputProps } from 'react-native'
import { useColours } from '../look/useColours'
import { Column, Words } from './type'
import { useWrong } from './wrong'

interface FieldProps extends Pick<
  TextInputProps,
  'secureTextEntry' | 'autoComplete' | 'onSubmitEditing' | 'onBlur' | 'placeholder' | 'autoFocus'
> {
  readonly label: string
  readonly value: string
  readonly onChange: (value: string) => void
  readonly wrong?: string
  /** Where in the document that is entered: what is wrong there is said here. */
  readonly place?: string
  /** For a figure, one of several in a row. */
  readonly narrow?: boolean
  readonly ref?: Ref<TextInput>
}

/** A labelled field for one line of text. */
export const Field = ({ label, value, onChange, wrong: told, place, narrow = false, ...rest }: FieldProps) => {
  const placed = useWrong(place)
  const wrong = told ?? placed
  const c = useColours()
  const id = useId()
  return (
    <Column gap="$1" flexGrow={1} flexShrink={1} flexBasis={narrow ? 0 : 'auto'} minWidth={narrow ? 72 : 160} minHeight={70}>
      <Words kind="small" id={`${id}-label`}>
        {label}
      </Words>
      <TextInput
        {...rest}
        aria-labelledby={`${id}-label`}
        aria-invalid={wrong !== undefined}
        value={value}
        onChangeText={onChange}
        autoCapitalize="none"
        placeholderTextColor={c.faint}
        style={{
          ...(narrow ? { width: '100%', minWidth: 0 } : {}),
          minHeight: 48,
          borderWidth: 1,
          borderColor: wrong === undefined ? c.mark : c.fail,
          borderRadius: 4,
          paddingHorizontal: 12,
          fontFamily: 'Words',
          fontSize: 17,
          color: c.ink,
          backgroundColor: c.sheet,
        }}
      />
      {wrong !== undefined && (
        <Words kind="small" color="$fail" role="alert">
          {wrong}
        </Words>
      )}
    </Column>
  )
}

/** An act in a row of fields: level with them whatever is said below one. The row puts its parts at its upper edge. */
export const BesideFields = ({ children }: { children: ReactNode }) => (
  <Column gap="$1">
    <Words kind="small" aria-hidden>
      {'\u00a0'}
    </Words>
    {children}
  </Column>
)
