import { ROUTES } from '@ypsigraph/contract/routes';
import { useState } from 'react';
import { useForm } from 'react-hook-form';
import { Link } from 'react-router';
import type { Forgotten } from '@ypsigraph/contract/people';
import { call, RequestError } from '../api/client.ts';
import { Button } from '../kit/button.tsx';
import { EmailField, NEEDED_EMAIL } from '../kit/email-field.tsx';
import { Wordmark } from '../kit/wordmark.tsx';

/** Asks for a message with an address at which another password is set. */
export function ForgottenPage() {
  const { register, handleSubmit, formState, setError } = useForm<Forgotten>();
  const [asked, setAsked] = useState<string>();
  const submit = handleSubmit(async (values) => {
    try {
      await call(ROUTES.forgotPassword, {}, values);
      setAsked(values.email);
    } catch (error) {
      if (!(error instanceof RequestError)) throw error;
      setError('email', { message: error.message });
    }
  });
  return (
    <main className="mx-auto flex min-h-full max-w-xs flex-col justify-center px-6 py-10">
      <Wordmark large />
      <h1 className="mt-6 text-lg">Forgotten your password?</h1>
      {asked === undefined ? (
        <form onSubmit={(event) => void submit(event)} noValidate className="mt-2 space-y-3">
          <p className="text-sm text-graphite">
            You are sent a message with an address at which you set another. It holds for an hour.
          </p>
          <EmailField field={register('email', NEEDED_EMAIL)} error={formState.errors.email?.message} />
          <Button type="submit" look="strong" disabled={formState.isSubmitting}>
            Send it
          </Button>
        </form>
      ) : (
        <p role="status" className="mt-2 text-sm">
          If somebody here has the address {asked}, a message is on its way to it. Where none comes, look among the
          unwanted ones, or ask your instructor.
        </p>
      )}
      <p className="mt-4 text-sm">
        <Link to="/" className="underline underline-offset-2">
          Back to signing in
        </Link>
      </p>
    </main>
  );
}
