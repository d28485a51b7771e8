import { useState } from 'react';
import type { Message } from '@ypsigraph/contract/outbox';
import { useOutbox } from '../api/data.ts';
import { Button } from '../kit/button.tsx';
import { Empty, Failed, Waiting } from '../kit/states.tsx';
import { day } from '../kit/when.ts';

/** What is sent, or would be, to whom, and when: exactly as it is. */
export function OutboxPage() {
  const { data: pages, error, mutate, size, setSize } = useOutbox();
  const [open, setOpen] = useState<string>();
  if (error && !pages) return <Failed error={error} again={() => void mutate()} />;
  if (!pages) return <Waiting />;
  const messages = pages.flatMap((page) => page.messages);
  if (messages.length === 0)
    return (
      <Empty title="Nothing has gone out yet">
        When you set an exercise, send a shot back or sign one off, what its student is told is here.
      </Empty>
    );
  const shown = messages.find(({ id }) => id === open) ?? messages[0]!;
  return (
    <main className="mx-auto max-w-6xl px-6 py-5">
      <h1 className="text-2xl">Outbox</h1>
      <p className="mb-3 text-graphite">
        {pages[0]!.mail
          ? 'What the mail server sends, and has sent.'
          : 'Nothing leaves this server: the outbox stands in for a mail server and keeps what it would send.'}
      </p>
      <div className="grid grid-cols-[minmax(0,5fr)_minmax(0,4fr)] gap-6">
        <div>
          <ul aria-label="Messages">
            {messages.map((message) => (
              <Line
                key={message.id}
                message={message}
                open={message.id === shown.id}
                onOpen={() => setOpen(message.id)}
              />
            ))}
          </ul>
          {pages.at(-1)?.next && (
            <p className="py-3 text-center">
              <Button onClick={() => void setSize(size + 1)}>Earlier ones</Button>
            </p>
          )}
        </div>
        <article
          aria-label="Message"
          className="sticky top-4 self-start border border-edge-strong bg-sheet p-5 text-sm"
        >
          <dl className="mb-4 grid grid-cols-[4rem_1fr] gap-y-0.5 border-b border-edge pb-3">
            <dt className="text-graphite">To</dt>
            <dd>
              {shown.to.name} &lt;{shown.to.email}&gt;
            </dd>
            <dt className="text-graphite">When</dt>
            <dd>{day(shown.at)}</dd>
            {pages[0]!.mail && (
              <>
                <dt className="text-graphite">State</dt>
                <dd>
                  {STATES[shown.state]}
                  {shown.why !== null && <span className="block text-graphite">{shown.why}</span>}
                </dd>
              </>
            )}
            <dt className="text-graphite">Subject</dt>
            <dd className="font-semibold">{shown.subject}</dd>
          </dl>
          <p className="break-words whitespace-pre-wrap">{shown.text}</p>
          {shown.link && <p className="mt-1 break-all">{shown.link}</p>}
          {shown.about === 'invited' && !shown.link && (
            <p className="mt-1 text-graphite">The address that follows opens an account: an instructor sees it.</p>
          )}
        </article>
      </div>
    </main>
  );
}

/** What became of a message, in words. */
const STATES: Readonly<Record<Message['state'], string>> = {
  kept: 'kept here, sent nowhere',
  waits: 'waits to be sent',
  sent: 'handed over to the mail server',
  'given up': 'could not be sent',
};

function Line({
  message: { subject, to, at, state },
  open,
  onOpen,
}: {
  message: Message;
  open: boolean;
  onOpen: () => void;
}) {
  return (
    <li className="border-b border-edge">
      <button
        type="button"
        aria-pressed={open}
        className={`flex w-full items-baseline gap-3 px-2 py-1.5 text-left text-sm hover:bg-wash ${open ? 'bg-wash' : ''}`}
        onClick={onOpen}
      >
        <span className="w-40 shrink-0 truncate font-semibold">{to.name}</span>
        <span className="min-w-0 flex-1 truncate">{subject}</span>
        {(state === 'waits' || state === 'given up') && (
          <span className={`shrink-0 text-xs ${state === 'given up' ? 'font-semibold' : 'text-graphite'}`}>
            {STATES[state]}
          </span>
        )}
        <span className="shrink-0 text-xs text-graphite">{day(at)}</span>
      </button>
    </li>
  );
}
