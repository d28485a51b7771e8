import { addressOf } from '@ypsigraph/contract/route';
import { ROUTES, DEMO_ROUTES } from '@ypsigraph/contract/routes';
import { browserSupportsWebAuthn } from '@simplewebauthn/browser';
import { useState } from 'react';
import { useForm } from 'react-hook-form';
import { Link, useSearchParams } from 'react-router';
import type { DemoPerson, Session, SignIn } from '@ypsigraph/contract/people';
import { RequestError, call } from '../api/client.ts';
import { useDemoPeople } from '../api/data.ts';
import { Button } from '../kit/button.tsx';
import { EmailField, NEEDED_EMAIL } from '../kit/email-field.tsx';
import { Field, INPUT } from '../kit/field.tsx';
import { PasswordField } from '../kit/password-field.tsx';
import { Wordmark } from '../kit/wordmark.tsx';
import { signInWithPasskey } from './passkeys.tsx';

/** The page is loaded anew, so that nothing another person read stays in it. */
async function begin(signedIn: Promise<unknown>): Promise<void> {
  await signedIn;
  window.location.assign('/');
}

/** Why somebody who came back from the school's provider was not let in. */
const REFUSED: Readonly<Record<string, string>> = {
  failed: 'Signing in there did not succeed. Try once more.',
  away: 'That way of signing in does not answer just now. Try it in a moment, or use your password.',
  unknown: 'Nobody here has the address of that account. Ask your instructor for a place in the course.',
  unverified: 'That account has no e-mail address that its provider has verified.',
};

export function SignInPage({ demo, mail, provider }: Omit<Session, 'person'>) {
  const [search] = useSearchParams();
  const refused = REFUSED[search.get('refused') ?? ''];
  const { register, handleSubmit, formState, setError } = useForm<SignIn>();
  const [asksCode, setAsksCode] = useState(false);
  const submit = handleSubmit(async (values) => {
    try {
      await begin(call(ROUTES.signIn, {}, values));
    } catch (error) {
      if (!(error instanceof RequestError)) throw error;
      const { type } = error.problem;
      if (type === 'code-needed') setAsksCode(true);
      else setError(type === 'wrong-code' ? 'code' : 'root', { message: error.message });
    }
  });
  const withPasskey = async (): Promise<void> => {
    try {
      if (await signInWithPasskey()) window.location.assign('/');
    } catch (error) {
      if (!(error instanceof RequestError)) throw error;
      setError('root', { message: error.message });
    }
  };
  return (
    <main className="mx-auto flex min-h-full max-w-4xl flex-col justify-center px-6 py-10">
      <Wordmark large />
      <p className="mt-2 max-w-prose text-graphite">
        Shots under review: what moves, how far, and when. Marks that say which frame, and what to do about it.
      </p>
      <div className={`mt-8 grid gap-10 ${demo ? 'md:grid-cols-[17rem_1fr]' : 'max-w-xs'}`}>
        <form onSubmit={(event) => void submit(event)} className="space-y-3" noValidate>
          <h2 className="text-lg">Sign in</h2>
          {provider !== null && (
            <div className="border-b border-edge pb-4">
              <a
                href={addressOf(ROUTES.beginOidc, {})}
                className="inline-flex min-h-7 items-center rounded-md border border-edge-strong bg-sheet px-2.5 hover:bg-wash"
              >
                Sign in with {provider}
              </a>
              {refused && (
                <p role="alert" className="mt-2 text-sm">
                  {refused}
                </p>
              )}
            </div>
          )}
          <EmailField field={register('email', NEEDED_EMAIL)} error={formState.errors.email?.message} />
          <PasswordField
            label="Password"
            which="current-password"
            field={register('password', { required: 'Your password is needed.' })}
            error={formState.errors.password?.message ?? formState.errors.root?.message}
          />
          {asksCode && (
            <Field
              label="Code"
              hint="The one your telephone shows now, or a recovery code."
              error={formState.errors.code?.message}
            >
              {(id) => (
                <input
                  id={id}
                  autoFocus
                  autoComplete="one-time-code"
                  className={`${INPUT} font-mono`}
                  {...register('code')}
                />
              )}
            </Field>
          )}
          <div className="flex gap-3">
            <Button type="submit" look="strong" disabled={formState.isSubmitting}>
              Sign in
            </Button>
            {browserSupportsWebAuthn() && <Button onClick={() => void withPasskey()}>Use a passkey</Button>}
          </div>
          {mail && (
            <p className="text-sm">
              <Link to="/forgotten" className="underline underline-offset-2">
                Forgotten your password?
              </Link>
            </p>
          )}
        </form>
        {demo && <DemoPeople />}
      </div>
    </main>
  );
}

function DemoPeople() {
  const { data: people = [] } = useDemoPeople(true);
  const staff = people.filter(({ role }) => role !== 'student');
  const lofts = [...new Set(people.filter(({ role }) => role === 'student').flatMap(({ cohorts }) => cohorts))].sort();
  return (
    <section aria-label="People of the demo" className="border-l border-edge-strong pl-6">
      <h2 className="text-lg">Saltwick Night School</h2>
      <p className="text-graphite">A demo. Everybody here is invented; come in as any of them.</p>
      <PeopleList title="Teaching" people={staff} />
      <div className="grid gap-x-6 sm:grid-cols-2">
        {lofts.map((loft) => (
          <PeopleList
            key={loft}
            title={loft}
            people={people.filter(({ role, cohorts }) => role === 'student' && cohorts.includes(loft))}
          />
        ))}
      </div>
    </section>
  );
}

function PeopleList({ title, people }: { title: string; people: readonly DemoPerson[] }) {
  return (
    <div className="mt-4">
      <h3 className="border-b border-edge-strong pb-0.5 text-sm">{title}</h3>
      <ul className="divide-y divide-edge">
        {people.map((person) => (
          <li key={person.id}>
            <button
              type="button"
              className="w-full px-1 py-1 text-left hover:bg-wash"
              onClick={() => void begin(call(DEMO_ROUTES.demoSignIn, {}, { person: person.id }))}
            >
              <span className="font-semibold">{person.name}</span>
              <span className="text-sm text-graphite">
                {' '}
                {person.role === 'student' ? '' : `${person.role}, `}
                {person.line}
              </span>
            </button>
          </li>
        ))}
      </ul>
    </div>
  );
}
