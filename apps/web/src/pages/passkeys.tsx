import { ROUTES } from '@ypsigraph/contract/routes';
import {
  browserSupportsWebAuthn,
  startAuthentication,
  startRegistration,
  WebAuthnError,
} from '@simplewebauthn/browser';
import { toast } from 'sonner';
import { attempt } from '../api/attempt.ts';
import { call } from '../api/client.ts';
import { usePasskeys } from '../api/data.ts';
import { Button } from '../kit/button.tsx';
import { ago, day } from '../kit/when.ts';
import { browserName } from './browser-name.ts';

type Creation = Parameters<typeof startRegistration>[0]['optionsJSON'];

/** Asks the browser for something about a passkey; whoever turns it down there has nothing more to be told. */
async function asked<T>(ask: () => Promise<T>): Promise<T | undefined> {
  try {
    return await ask();
  } catch (error) {
    if (error instanceof WebAuthnError && error.code === 'ERROR_AUTHENTICATOR_PREVIOUSLY_REGISTERED')
      toast.error('This device has a passkey for you already.');
    else if (!(error instanceof Error && ['NotAllowedError', 'AbortError'].includes(error.name)))
      toast.error('The browser could not do that with a passkey.');
    return undefined;
  }
}

/** Signs in with a passkey. @returns whether somebody is signed in */
export async function signInWithPasskey(): Promise<boolean> {
  const { options } = await call(ROUTES.beginPasskeySignIn, {});
  const response = await asked(() => startAuthentication({ optionsJSON: options }));
  if (!response) return false;
  await call(ROUTES.passkeySignIn, {}, { response: { ...response } });
  return true;
}

/** Passkeys of whoever is signed in: added on this device, removed. */
export function PasskeysSection() {
  const { data: passkeys, mutate } = usePasskeys();
  if (!passkeys || !browserSupportsWebAuthn()) return null;
  const add = (): Promise<boolean> =>
    attempt(async () => {
      const { options } = await call(ROUTES.beginPasskey, {});
      const response = await asked(() => startRegistration({ optionsJSON: options as unknown as Creation }));
      if (!response) return;
      const name = browserName(navigator.userAgent);
      await mutate(await call(ROUTES.addPasskey, {}, { name, response: { ...response } }), { revalidate: false });
    });
  const remove = (passkey: string): Promise<boolean> =>
    attempt(async () => {
      await mutate(await call(ROUTES.dropPasskey, { passkey }), { revalidate: false });
    });
  return (
    <section className="max-w-md space-y-3" aria-label="Passkeys">
      <h2 className="text-lg">Passkeys</h2>
      <p className="text-sm text-graphite">
        A key that this device keeps, and opens by your finger, your face or its code. It signs you in without a
        password and without a second factor.
      </p>
      {passkeys.length > 0 && (
        <ul className="divide-y divide-edge border-y border-edge text-sm">
          {passkeys.map(({ id, name, since, usedAt }) => (
            <li key={id} className="flex items-baseline gap-3 py-1.5">
              <span className="min-w-0 flex-1 truncate">{name}</span>
              <span className="shrink-0 text-xs text-graphite">
                {usedAt === null ? `since ${day(since)}` : `used ${ago(usedAt)}`}
              </span>
              <Button look="quiet" onClick={() => void remove(id)}>
                Remove
              </Button>
            </li>
          ))}
        </ul>
      )}
      <Button onClick={() => void add()}>Add a passkey on this device</Button>
    </section>
  );
}
