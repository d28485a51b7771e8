import { ROUTES } from '@ypsigraph/contract/routes';
import { useState } from 'react';
import { toast } from 'sonner';
import { attempt } from '../api/attempt.ts';
import { call } from '../api/client.ts';
import { Button } from '../kit/button.tsx';
import { INPUT } from '../kit/field.tsx';

/** Every date in one's own calendar program: an address that is a secret, and can be made anew. */
export function Calendar() {
  const [address, setAddress] = useState<string | null>(null);
  const renew = (): Promise<boolean> => attempt(async () => setAddress((await call(ROUTES.renewCalendar, {})).address));
  const drop = (): Promise<boolean> =>
    attempt(async () => {
      await call(ROUTES.dropCalendar, {});
      setAddress(null);
      toast.success('The address no longer works.');
    });
  return (
    <section aria-label="Calendar" className="space-y-2 text-sm">
      <h2 className="text-lg">Dates in your calendar</h2>
      <p>
        Whoever has the address reads your dates: keep it to yourself. It is shown once; a new one ends the one before.
      </p>
      {address && (
        <input
          aria-label="Address of the calendar"
          readOnly
          className={`${INPUT} frame-number`}
          value={address}
          onFocus={(e) => e.target.select()}
        />
      )}
      <p className="flex gap-2">
        <Button onClick={() => void renew()}>{address ? 'Another address' : 'Make an address'}</Button>
        <Button look="quiet" onClick={() => void drop()}>
          End it
        </Button>
      </p>
    </section>
  );
}
