import { FileInput } from 'lucide-react';
import { toast } from 'sonner';
import type { Mark } from '@ypsigraph/contract/marks';
import { FormatError } from '@ypsigraph/core/formats/format-error';
import { useSession } from '../../api/data.ts';
import { FileButton } from '../../kit/file-button.tsx';
import { useReview } from '../review.ts';
import type { Draft } from './draft.ts';
import { marksFromFile } from './marks-from-file.ts';

/** Largest file of marks, bytes. */
const MOST_BYTES = 5 * 1024 * 1024;

interface Props {
  readonly marks: readonly Mark[];
  readonly onMarks: (drafts: readonly Draft[]) => void;
}

/** Marks that were made elsewhere, from a file of web annotations: they become marks of this revision, not sent yet. */
export function BringMarksIn({ marks, onMarks }: Props) {
  const { source } = useReview();
  const me = useSession().data?.person?.name ?? '';
  if (!source) return null;
  const bring = async (file: File): Promise<void> => {
    try {
      if (file.size > MOST_BYTES) throw new FormatError('it is larger than 5 MB');
      const { drafts, leftOut } = marksFromFile(await file.text(), source, marks, me);
      onMarks(drafts);
      const many = drafts.length === 1 ? 'One mark was' : `${drafts.length === 0 ? 'No' : drafts.length} marks were`;
      toast(`${many} brought in, not sent yet.`, {
        description: leftOut.length > 0 ? `Left out: ${leftOut.join('; ')}.` : undefined,
      });
    } catch (error) {
      if (!(error instanceof FormatError)) throw error;
      toast.error(`${file.name} can’t be brought in.`, { description: error.message });
    }
  };
  return (
    <FileButton accept=".jsonld,.json,application/ld+json,application/json" onFiles={([file]) => void bring(file!)}>
      <FileInput size={13} /> <span className="text-xs">Bring marks in</span>
    </FileButton>
  );
}
