import type { ReactNode } from 'react';

interface Props {
  readonly accept?: string;
  readonly multiple?: boolean;
  readonly disabled?: boolean;
  readonly onFiles: (files: readonly File[]) => void;
  readonly children: ReactNode;
}

/** A button that lets somebody choose files. The same file can be chosen again. */
export const FileButton = ({ accept, multiple = false, disabled = false, onFiles, children }: Props) => (
  <label className="relative inline-flex min-h-7 cursor-pointer items-center gap-1.5 rounded-md border border-edge-strong bg-sheet px-2.5 text-sm focus-within:outline-2 hover:bg-wash">
    {children}
    <input
      type="file"
      accept={accept}
      multiple={multiple}
      disabled={disabled}
      className="sr-only"
      onChange={({ target }) => {
        const chosen = [...(target.files ?? [])];
        target.value = '';
        if (chosen.length > 0) onFiles(chosen);
      }}
    />
  </label>
);
