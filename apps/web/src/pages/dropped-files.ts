import { zip } from 'fflate';
import { holdsMotion, namesInZip } from '@ypsigraph/core/formats/zipped';
import { ENDINGS } from '@ypsigraph/core/formats/formats';

/** A file that somebody has dropped, and what it is taken for. */
export interface Dropped {
  readonly file: File;
  readonly is: 'motion' | 'pictures' | 'sound';
}

const CLIP = /\.(webm|mkv|mp4|m4v|mov|3gp|gif|a?png|webp|zip)$/i;
/** The list of what a zip holds lies in its last bytes. */
const LIST_BYTES = 1024 * 1024;

/** What a sound is called. */
export const SOUND = /\.(wav|mp3|og[ga]|opus|m4a|flac)$/i;

/** What somebody has dropped is: pictures, a sound or a motion, by its name, and of a zip by the names in it. What is in each is looked at where it is read. */
export async function whatItIs(file: File): Promise<Dropped> {
  if (SOUND.test(file.name) || file.type.startsWith('audio/')) return { file, is: 'sound' };
  const isClip = CLIP.test(file.name) || /^(video|image)\//.test(file.type);
  if (!isClip || !/\.zip$/i.test(file.name)) return { file, is: isClip ? 'pictures' : 'motion' };
  const end = new Uint8Array(await file.slice(Math.max(0, file.size - LIST_BYTES)).arrayBuffer());
  return { file, is: holdsMotion(namesInZip(end)) ? 'motion' : 'pictures' };
}

const TEXT_WITH_FILES = /\.gltf$/i;

/** A `.gltf` that was dropped with the files it names is put into one zip with them; everything else stays as it is. */
export async function together(files: readonly File[]): Promise<readonly File[]> {
  const text = files.find(({ name }) => TEXT_WITH_FILES.test(name));
  const beside = files.filter((own) => own !== text && /\.(bin|png|jpe?g|webp)$/i.test(own.name));
  if (!text || beside.length === 0) return files;
  const all = [text, ...beside];
  const contents = await Promise.all(
    all.map(async (own) => [own.name, new Uint8Array(await own.arrayBuffer())] as const),
  );
  const packed = await new Promise<Uint8Array<ArrayBuffer>>((resolve, reject) =>
    zip(Object.fromEntries(contents), (error, data) =>
      error ? reject(new Error(error.message)) : resolve(Uint8Array.from(data)),
    ),
  );
  const own = new File([packed], text.name.replace(TEXT_WITH_FILES, '.zip'), { lastModified: text.lastModified });
  return [own, ...files.filter((other) => !all.includes(other))];
}

/** What motions are called, as a file picker takes it. */
export const MOTIONS = ENDINGS.join(',');
