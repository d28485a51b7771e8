import { ROUTES } from '@ypsigraph/contract/routes';
import { useInvitation } from '../api/data.ts';
import { useForm } from 'react-hook-form';
import { useParams } from 'react-router';
import { RequestError, call } from '../api/client.ts';
import { Button } from '../kit/button.tsx';
import { NEW_PASSWORD, PasswordField } from '../kit/password-field.tsx';
import { Failed, Waiting } from '../kit/states.tsx';
import { day } from '../kit/when.ts';
import { Wordmark } from '../kit/wordmark.tsx';

interface Fields {
  password: string;
  again: string;
}

/** Where an invitation leads: the invited set a password of their own and are in. */
export function InvitationPage() {
  const { token = '' } = useParams();
  const { data, error } = useInvitation(token);
  const { register, handleSubmit, formState, setError, getValues } = useForm<Fields>();
  const submit = handleSubmit(async ({ password }) => {
    try {
      await call(ROUTES.acceptInvitation, { token }, { password });
      window.location.assign('/');
    } catch (caught) {
      if (!(caught instanceof RequestError)) throw caught;
      setError('root', { message: caught.message });
    }
  });
  if (error) return <Failed error={error} />;
  if (!data) return <Waiting />;
  return (
    <main className="mx-auto flex min-h-full max-w-xs flex-col justify-center px-6 py-10">
      <Wordmark large />
      <h1 className="mt-6 text-lg">Welcome, {data.name}</h1>
      <p className="mt-1 text-sm text-graphite">
        Set a password of your own. You sign in with it and {data.email}. This invitation holds until{' '}
        {day(data.expires)}.
      </p>
      <form onSubmit={(event) => void submit(event)} noValidate className="mt-4 space-y-3">
        <input type="email" autoComplete="username" value={data.email} readOnly hidden />
        <PasswordField
          label="Password"
          which="new-password"
          hint="Ten characters or more."
          field={register('password', NEW_PASSWORD)}
          error={formState.errors.password?.message}
        />
        <PasswordField
          label="Once more"
          which="new-password"
          field={register('again', {
            validate: (again) => again === getValues('password') || 'The two are not the same.',
          })}
          error={formState.errors.again?.message ?? formState.errors.root?.message}
        />
        <Button type="submit" look="strong" disabled={formState.isSubmitting}>
          Come in
        </Button>
      </form>
    </main>
  );
}
