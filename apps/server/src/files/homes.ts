import type { Configuration } from '../config.ts';
import type { FileHome } from './file-home.ts';
import { FolderHome } from './folder-home.ts';
import { objectClient } from './object-client.ts';
import { ObjectHome } from './object-home.ts';

/** Where files are kept, and where those lie that were kept before the home was changed. */
export interface Homes {
  readonly home: FileHome;
  /** Asked for what the home lacks; undefined where there is no other. */
  readonly other: FileHome | undefined;
}

/** The homes a configuration names. With an object store configured the one that is not chosen is still read from: files may be on their way between both. */
export function homesOf(configuration: Configuration): Homes {
  const folder = new FolderHome(configuration.FILES_DIR);
  if (configuration.S3_BUCKET === '') return { home: folder, other: undefined };
  const objects = new ObjectHome(objectClient(configuration), configuration.S3_BUCKET);
  return configuration.FILES_HOME === 'objects' ? { home: objects, other: folder } : { home: folder, other: objects };
}
