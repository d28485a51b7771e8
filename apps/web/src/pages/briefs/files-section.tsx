import { addressOf } from '@ypsigraph/contract/route';
import { ROUTES } from '@ypsigraph/contract/routes';
import { FileUp, X } from 'lucide-react';
import { useState } from 'react';
import type { Brief, BriefVersions } from '@ypsigraph/contract/briefs';
import { attempt } from '../../api/attempt.ts';
import { call } from '../../api/client.ts';
import { Button } from '../../kit/button.tsx';
import { FileButton } from '../../kit/file-button.tsx';
import { sizeOf } from '../../kit/size-of.ts';
import { Section } from './sections.tsx';

/** What a sound is called; whether it is one the server looks. */
const SOUND = /\.(wav|mp3|ogg|oga|opus|m4a|flac)$/i;

/** Files to start from: a rig, a plan, a recording. Stored at once, whatever becomes of the rest of the sheet. */
export function FilesSection({ brief, onChange }: { brief: Brief; onChange: (versions: BriefVersions) => void }) {
  const [busy, setBusy] = useState(false);
  const add = async (files: readonly File[]): Promise<void> => {
    setBusy(true);
    for (const file of files) {
      const form = new FormData();
      form.set('file', file, file.name);
      await attempt(async () => onChange(await call(ROUTES.addBriefFile, { brief: brief.id }, form)));
    }
    setBusy(false);
  };
  const drop = (id: string): Promise<boolean> =>
    attempt(async () => onChange(await call(ROUTES.dropBriefFile, { brief: brief.id, file: id })));
  const hear = async (id: string, heard: boolean): Promise<void> => {
    setBusy(true);
    await attempt(async () => onChange(await call(ROUTES.hearBriefFile, { brief: brief.id, file: id }, { heard })));
    setBusy(false);
  };
  return (
    <Section title="Files to start from">
      <ul className="text-sm">
        {brief.files.map(({ id, name, bytes, heard }) => (
          <li key={id} className="flex items-baseline gap-2">
            <a
              className="underline underline-offset-2"
              href={addressOf(ROUTES.briefFile, { brief: brief.id, file: id })}
              download={name}
            >
              {name}
            </a>
            <span className="text-xs text-graphite">{sizeOf(bytes)}</span>
            {SOUND.test(name) && (
              <label className="flex items-center gap-1 text-xs">
                <input type="checkbox" checked={heard} disabled={busy} onChange={() => void hear(id, !heard)} />
                heard with every shot
              </label>
            )}
            <Button look="quiet" className="!min-h-6" aria-label={`Delete ${name}`} onClick={() => void drop(id)}>
              <X size={13} />
            </Button>
          </li>
        ))}
      </ul>
      <FileButton multiple disabled={busy} onFiles={(files) => void add(files)}>
        <FileUp size={14} aria-hidden /> {busy ? 'One moment …' : 'Add files'}
      </FileButton>
    </Section>
  );
}
