import { useState } from 'react';
import { AUDIT_KINDS, type AuditEntry, type AuditKind } from '@ypsigraph/contract/audit';
import { useAudit } from '../api/data.ts';
import { Button } from '../kit/button.tsx';
import { Select } from '../kit/select.tsx';
import { Empty, Failed, Waiting } from '../kit/states.tsx';
import { day } from '../kit/when.ts';

/** What each kind is called where one is chosen. */
const KINDS: Readonly<Record<AuditKind, string>> = {
  'sign-in': 'Sign-ins and passwords',
  roles: 'People and cohorts',
  export: 'What was taken away',
  deletion: 'What was deleted',
};
const EVERYTHING = 'everything';

/** Who did what: sign-ins, roles, exports, deletions, the newest first. */
export function RecordPage() {
  const [kind, setKind] = useState<AuditKind>();
  const { data: pages, error, mutate, size, setSize } = useAudit(kind);
  if (error && !pages) return <Failed error={error} again={() => void mutate()} />;
  return (
    <main className="mx-auto max-w-4xl px-6 py-5">
      <div className="flex flex-wrap items-center gap-3">
        <h1 className="text-2xl">Who did what</h1>
        <Select
          label="Show"
          value={kind ?? EVERYTHING}
          options={[
            { value: EVERYTHING, text: 'Everything' },
            ...AUDIT_KINDS.map((value) => ({ value, text: KINDS[value] })),
          ]}
          onChange={(value) => setKind(AUDIT_KINDS.find((own) => own === value))}
        />
      </div>
      {!pages ? (
        <Waiting />
      ) : (
        <>
          <p className="mb-3 text-graphite">
            Kept for {pages[0]!.days} days. Reviews, marks and dates have histories of their own where they are.
          </p>
          <Entries entries={pages.flatMap(({ entries }) => entries)} />
          {pages.at(-1)?.next && (
            <p className="py-3 text-center">
              <Button onClick={() => void setSize(size + 1)}>Earlier ones</Button>
            </p>
          )}
        </>
      )}
    </main>
  );
}

function Entries({ entries }: { entries: readonly AuditEntry[] }) {
  if (entries.length === 0)
    return <Empty title="Nothing of this kind yet">What people do from now on is written down here.</Empty>;
  return (
    <table className="w-full text-sm">
      <thead className="text-left text-xs text-graphite">
        <tr>
          <th className="w-40 py-1 font-normal">When</th>
          <th className="w-44 font-normal">Who</th>
          <th className="font-normal">What</th>
        </tr>
      </thead>
      <tbody>
        {entries.map(({ id, at, who, did, about }) => (
          <tr key={id} className="border-t border-edge align-baseline">
            <td className="py-1 text-graphite">{day(at)}</td>
            <td className="font-semibold">{who}</td>
            <td>
              {did}
              {about !== '' && ` ${about}`}
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}
