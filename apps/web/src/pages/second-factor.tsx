import { ROUTES } from '@ypsigraph/contract/routes';
import { type ReactNode, useEffect, useState } from 'react';
import { useForm } from 'react-hook-form';
import { toast } from 'sonner';
import type { NewFactor, RecoveryCodes } from '@ypsigraph/contract/people';
import { count } from '@ypsigraph/core/say/words';
import { attempt } from '../api/attempt.ts';
import { call, RequestError } from '../api/client.ts';
import { again, useSecondFactor } from '../api/data.ts';
import { Button } from '../kit/button.tsx';
import { Field, INPUT } from '../kit/field.tsx';
import { saveText } from '../kit/save-text.ts';
import { day } from '../kit/when.ts';

/** A second factor: set up with a telephone, switched off, recovery codes made anew. */
export function SecondFactorSection() {
  const { data } = useSecondFactor();
  const [fresh, setFresh] = useState<NewFactor>();
  const [codes, setCodes] = useState<readonly string[]>();
  const [asks, setAsks] = useState<'off' | 'codes'>();
  if (!data) return null;
  const settle = (): void => {
    setFresh(undefined);
    setAsks(undefined);
    void again(ROUTES.secondFactor);
  };
  const told = ({ recoveryCodes }: RecoveryCodes): void => {
    setCodes(recoveryCodes);
    settle();
  };
  return (
    <section className="max-w-md space-y-3" aria-label="Second factor">
      <h2 className="text-lg">Second factor</h2>
      {codes && <Codes codes={codes} onDone={() => setCodes(undefined)} />}
      {data.since === null && !fresh && (
        <>
          <p className="text-sm text-graphite">
            Besides your password you are asked for a code that your telephone makes, anew every half minute.
          </p>
          <Button onClick={() => void attempt(async () => setFresh(await call(ROUTES.beginFactor, {})))}>
            Set it up
          </Button>
        </>
      )}
      {data.since === null && fresh && (
        <>
          <Shared factor={fresh} />
          <CodeForm
            label="The code it shows now"
            does="Switch it on"
            work={async (code) => told(await call(ROUTES.confirmFactor, {}, { code }))}
          >
            <Button look="quiet" onClick={() => setFresh(undefined)}>
              Cancel
            </Button>
          </CodeForm>
        </>
      )}
      {data.since !== null && (
        <>
          <p className="text-sm">
            On since {day(data.since)}. {count(data.recoveryCodes, 'recovery code')} left.
          </p>
          {asks === undefined ? (
            <p className="flex gap-2">
              <Button onClick={() => setAsks('codes')}>Other recovery codes</Button>
              <Button onClick={() => setAsks('off')}>Switch it off</Button>
            </p>
          ) : (
            <CodeForm
              key={asks}
              label="A code of your telephone, or a recovery code"
              does={asks === 'off' ? 'Switch it off' : 'Make other codes'}
              work={async (code) => {
                if (asks === 'codes') return told(await call(ROUTES.codesAnew, {}, { code }));
                await call(ROUTES.dropFactor, {}, { code });
                toast.success('You sign in with your password alone.');
                settle();
              }}
            >
              <Button look="quiet" onClick={() => setAsks(undefined)}>
                Cancel
              </Button>
            </CodeForm>
          )}
        </>
      )}
    </section>
  );
}

/** The secret, as a picture for a telephone and as letters for whoever types it. */
function Shared({ factor: { secret, address } }: { factor: NewFactor }) {
  const [picture, setPicture] = useState<string>();
  useEffect(() => {
    let current = true;
    void import('qrcode').then(async ({ toString }) => {
      const svg = await toString(address, { type: 'svg', margin: 2 });
      if (current) setPicture(`data:image/svg+xml;charset=utf-8,${encodeURIComponent(svg)}`);
    });
    return () => {
      current = false;
    };
  }, [address]);
  return (
    <div className="flex flex-wrap items-center gap-4">
      {picture && <img src={picture} alt="The secret as a picture for your telephone" className="size-40" />}
      <p className="max-w-48 text-sm">
        Let a program for one-time codes on your telephone look at the picture, or type this into it:
        <span className="mt-1 block font-mono break-all">{secret.replace(/(.{4})(?=.)/g, '$1 ')}</span>
      </p>
    </div>
  );
}

function Codes({ codes, onDone }: { codes: readonly string[]; onDone: () => void }) {
  return (
    <div className="border-l-[3px] border-ink bg-wash px-3 py-2 text-sm" role="status">
      <p>
        Recovery codes, each taken once in place of your telephone’s. They are shown this once: keep them where you find
        them without it.
      </p>
      <ul className="my-2 grid w-fit grid-cols-2 gap-x-6 font-mono" aria-label="Recovery codes">
        {codes.map((code) => (
          <li key={code}>{code}</li>
        ))}
      </ul>
      <p className="flex gap-2">
        <Button onClick={() => saveText(`${codes.join('\n')}\n`, 'ypsigraph-recovery-codes.txt')}>
          Take them away
        </Button>
        <Button look="quiet" onClick={onDone}>
          I have them
        </Button>
      </p>
    </div>
  );
}

interface CodeFormProps {
  readonly label: string;
  readonly does: string;
  readonly work: (code: string) => Promise<void>;
  /** What stands beside its button. */
  readonly children: ReactNode;
}

function CodeForm({ label, does, work, children }: CodeFormProps) {
  const { register, handleSubmit, formState, setError } = useForm<{ code: string }>();
  const submit = handleSubmit(async ({ code }) => {
    try {
      await work(code);
    } catch (error) {
      if (!(error instanceof RequestError)) throw error;
      setError('code', { message: error.message });
    }
  });
  return (
    <form onSubmit={(event) => void submit(event)} noValidate className="max-w-xs space-y-3">
      <Field label={label} error={formState.errors.code?.message}>
        {(id) => (
          <input
            id={id}
            autoComplete="one-time-code"
            className={`${INPUT} font-mono`}
            {...register('code', { required: 'A code is needed.' })}
          />
        )}
      </Field>
      <p className="flex gap-2">
        <Button type="submit" look="strong" disabled={formState.isSubmitting}>
          {does}
        </Button>
        {children}
      </p>
    </form>
  );
}
