import type { UseFormRegisterReturn } from 'react-hook-form';
import { Field, INPUT } from './field.tsx';

/** What every form that asks for an e-mail address asks. */
export const NEEDED_EMAIL = { required: 'Your e-mail address is needed.' } as const;

/** The e-mail address that somebody signs in with. */
export const EmailField = ({ field, error }: { field: UseFormRegisterReturn; error: string | undefined }) => (
  <Field label="E-mail" error={error}>
    {(id) => <input id={id} type="email" autoComplete="username" className={INPUT} {...field} />}
  </Field>
);
