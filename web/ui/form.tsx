import { valibotResolver } from '@hookform/resolvers/valibot'
import { useId, type ReactNode } from 'react'
import {
  useController,
  useForm,
  type Control,
  type DefaultValues,
  type FieldPath,
  type FieldValues,
  type UseFormReturn,
} from 'react-hook-form'
import type { GenericSchema, InferInput, InferOutput } from 'valibot'
import { Choice, Field, TextInput } from './fields.tsx'

/**
 * A form of several fields, checked by a schema when it is sent: the first field that is refused takes the focus, each
 * says why, keeps its text, and is checked again as it is mended. What is not written (a full disk) stays as well: forms
 * are emptied by who sends them.
 */
export const useCheckedForm = <S extends GenericSchema<FieldValues, FieldValues>>(
  schema: S,
  defaultValues: DefaultValues<InferInput<S>>,
): UseFormReturn<InferInput<S>, unknown, InferOutput<S>> =>
  useForm<InferInput<S>, unknown, InferOutput<S>>({ resolver: valibotResolver(schema), defaultValues })

/** A text of a form. Numbers and amounts are texts too, which the form's schema reads. */
export function FormText<T extends FieldValues, Out>({
  control,
  name,
  label,
  hint,
  ...rest
}: {
  control: Control<T, unknown, Out>
  name: FieldPath<T>
  label: string
  hint?: string
} & Omit<React.InputHTMLAttributes<HTMLInputElement>, 'name' | 'value' | 'onChange' | 'onBlur'>) {
  const { field, fieldState } = useController({ control, name })
  return (
    <Field label={label} {...(hint !== undefined && { hint })}>
      {(id) => (
        <Refusable problem={fieldState.error?.message}>
          {(described) => (
            <TextInput
              {...rest}
              {...described}
              id={id}
              ref={field.ref}
              name={field.name}
              value={(field.value as string | undefined) ?? ''}
              onChange={field.onChange}
              onBlur={field.onBlur}
            />
          )}
        </Refusable>
      )}
    </Field>
  )
}

/** A choice of a form. */
export function FormChoice<T extends FieldValues, Out>({
  control,
  name,
  label,
  hint,
  options,
  className,
}: {
  control: Control<T, unknown, Out>
  name: FieldPath<T>
  label: string
  hint?: string
  options: readonly { readonly value: string; readonly label: string }[]
  className?: string
}) {
  const { field } = useController({ control, name })
  return (
    <Field label={label} {...(hint !== undefined && { hint })}>
      {(id) => (
        <Choice
          id={id}
          value={field.value as string}
          options={options}
          onChange={field.onChange}
          {...(className !== undefined && { className })}
        />
      )}
    </Field>
  )
}

/** Says under a field why its text was refused, also to who cannot see it there. */
function Refusable({
  problem,
  children,
}: {
  problem: string | undefined
  children: (described: { 'aria-invalid'?: true; 'aria-describedby'?: string }) => ReactNode
}) {
  const id = useId()
  return (
    <>
      {children(problem === undefined ? {} : { 'aria-invalid': true, 'aria-describedby': id })}
      {problem !== undefined && (
        <span id={id} role="alert" className="text-xs text-bad">
          {problem}
        </span>
      )}
    </>
  )
}
