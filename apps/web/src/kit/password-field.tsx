import type { UseFormRegisterReturn } from 'react-hook-form';
import { Field, INPUT } from './field.tsx';

interface Props {
  readonly label: string;
  /** The one a person has, or one they set: browsers offer what fits. */
  readonly which: 'current-password' | 'new-password';
  readonly field: UseFormRegisterReturn;
  readonly error: string | undefined;
  readonly hint?: string;
}

/** A password as a form asks for it. */
export function PasswordField({ label, which, field, error, hint }: Props) {
  return (
    <Field label={label} error={error} {...(hint !== undefined && { hint })}>
      {(id) => <input id={id} type="password" autoComplete={which} className={INPUT} {...field} />}
    </Field>
  );
}

/** What a new password must be. */
export const NEW_PASSWORD = {
  required: 'A password is needed.',
  minLength: { value: 10, message: 'Ten characters or more.' },
} as const;
