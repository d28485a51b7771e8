import { addressOf } from '@ypsigraph/contract/route';
import { ROUTES } from '@ypsigraph/contract/routes';
import { useForm } from 'react-hook-form';
import { Link } from 'react-router';
import { toast } from 'sonner';
import type { OwnSession, Person } from '@ypsigraph/contract/people';
import { attempt } from '../api/attempt.ts';
import { RequestError, call } from '../api/client.ts';
import { useOwnSessions } from '../api/data.ts';
import { Button } from '../kit/button.tsx';
import { NEW_PASSWORD, PasswordField } from '../kit/password-field.tsx';
import { Waiting } from '../kit/states.tsx';
import { ago } from '../kit/when.ts';
import { browserName } from './browser-name.ts';
import { Calendar } from './calendar-section.tsx';
import { PasskeysSection } from './passkeys.tsx';
import { SecondFactorSection } from './second-factor.tsx';
import { RoomLine } from './room-line.tsx';

/** A person's own page: their password, where they are signed in, and how much room their files take. */
export function AccountPage({ person }: { person: Person }) {
  return (
    <main className="mx-auto max-w-2xl space-y-8 px-6 py-5">
      <header>
        <h1 className="text-2xl">{person.name}</h1>
        <p className="text-graphite">{person.role}</p>
      </header>
      {person.role === 'student' && <RoomLine />}
      <Calendar />
      <Password />
      {person.role !== 'student' && <SecondFactorSection />}
      {person.role !== 'student' && <PasskeysSection />}
      {person.role === 'instructor' && (
        <p className="text-sm">
          <Link to="/record" className="underline">
            Who did what
          </Link>{' '}
          in this school: sign-ins, people and cohorts, what was taken away or deleted.
        </p>
      )}
      <Sessions />
      <Everything />
    </main>
  );
}

interface Fields {
  old: string;
  password: string;
  again: string;
}

function Password() {
  const { register, handleSubmit, formState, setError, reset, getValues } = useForm<Fields>();
  const submit = handleSubmit(async ({ old, password }) => {
    try {
      await call(ROUTES.changePassword, {}, { old, password });
      reset();
      toast.success('The password is changed. Everywhere else you are signed out.');
    } catch (error) {
      if (!(error instanceof RequestError)) throw error;
      setError('root', { message: error.message });
    }
  });
  return (
    <form onSubmit={(event) => void submit(event)} noValidate className="max-w-xs space-y-3">
      <h2 className="text-lg">Password</h2>
      <PasswordField
        label="Current password"
        which="current-password"
        field={register('old', { required: 'Your password is needed.' })}
        error={formState.errors.old?.message}
      />
      <PasswordField
        label="New password"
        which="new-password"
        hint="Ten characters or more."
        field={register('password', NEW_PASSWORD)}
        error={formState.errors.password?.message}
      />
      <PasswordField
        label="New password again"
        which="new-password"
        field={register('again', {
          validate: (again) => again === getValues('password') || 'The two are not the same.',
        })}
        error={formState.errors.again?.message ?? formState.errors.root?.message}
      />
      <Button type="submit" look="strong" disabled={formState.isSubmitting}>
        Change it
      </Button>
    </form>
  );
}

/** All that the school keeps of a person, to be taken away. */
function Everything() {
  return (
    <section className="space-y-2 text-sm">
      <h2 className="text-lg">Everything the school keeps of you</h2>
      <p>
        Your files as you handed them in, with what was measured, marked and written, as one archive of tables in an
        open format.
      </p>
      <Button asChild>
        <a href={addressOf(ROUTES.everythingOwn, {})} download="everything.zip">
          Take it away
        </a>
      </Button>
    </section>
  );
}

function Sessions() {
  const { data: sessions, mutate } = useOwnSessions();
  if (!sessions) return <Waiting />;
  const end = (ended: Promise<OwnSession[]>): Promise<boolean> =>
    attempt(async () => {
      await mutate(await ended, { revalidate: false });
    });
  return (
    <section>
      <h2 className="text-lg">Where you are signed in</h2>
      <ul className="mt-2 divide-y divide-edge border-y border-edge" data-testid="sessions">
        {sessions.map(({ id, began, browser, own }) => (
          <li key={id} className="flex items-center gap-3 py-1.5 text-sm">
            <span className="min-w-0 flex-1 truncate">{browserName(browser)}</span>
            <span className="text-graphite">{own ? 'here' : `came in ${ago(began)}`}</span>
            {!own && (
              <Button
                look="quiet"
                className="!min-h-6 text-xs"
                onClick={() => void end(call(ROUTES.endSession, { session: id }))}
              >
                End it
              </Button>
            )}
          </li>
        ))}
      </ul>
      {sessions.length > 1 && (
        <Button className="mt-2" onClick={() => void end(call(ROUTES.endOtherSessions, {}))}>
          Sign out everywhere else
        </Button>
      )}
    </section>
  );
}
