import { S3Client, type S3ClientConfig, S3ServiceException } from '@aws-sdk/client-s3';
import type { Configuration } from '../config.ts';
import { traced } from '../watch/tracing.ts';
import { FileMissingError, FilesAwayError } from './file-home.ts';

/** So long a store may take to be reached, and to say nothing, in milliseconds; each request is tried so many times. */
const CONNECT_MS = 2_000;
const SILENT_MS = 20_000;
const TRIES = 4;

const silent = (): void => undefined;

type OfObjects = Pick<
  Configuration,
  'S3_ENDPOINT' | 'S3_REGION' | 'S3_ACCESS_KEY_ID' | 'S3_SECRET_ACCESS_KEY' | 'S3_PATH_STYLE'
>;

/** How an object store is spoken to. What it asks for is signed; what not every store knows of (checksums of its own at the end of a body) is left out. */
export const objectClientConfig = (configuration: OfObjects): S3ClientConfig => ({
  region: configuration.S3_REGION,
  ...(configuration.S3_ENDPOINT && { endpoint: configuration.S3_ENDPOINT }),
  forcePathStyle: configuration.S3_PATH_STYLE,
  // Left out, they come from where the SDK looks: its environment, or the machine's own role.
  ...(configuration.S3_ACCESS_KEY_ID && {
    credentials: {
      accessKeyId: configuration.S3_ACCESS_KEY_ID,
      secretAccessKey: configuration.S3_SECRET_ACCESS_KEY,
    },
  }),
  requestChecksumCalculation: 'WHEN_REQUIRED',
  responseChecksumValidation: 'WHEN_REQUIRED',
  maxAttempts: TRIES,
  // What it has to say comes as errors.
  logger: { debug: silent, info: silent, warn: silent, error: silent },
  requestHandler: { connectionTimeout: CONNECT_MS, requestTimeout: SILENT_MS, throwOnRequestTimeout: true },
});

export const objectClient = (configuration: OfObjects): S3Client => {
  const client = new S3Client(objectClientConfig(configuration));
  // The hash of what is kept is known before it is sent: it is signed, so that the store refuses what comes otherwise.
  client.middlewareStack.add(
    (next) => (context) => {
      const { input, request } = context as unknown as {
        input: { Metadata?: { sha256?: string } };
        request: { method: string; headers: Record<string, string> };
      };
      const { sha256 } = input.Metadata ?? {};
      if (request.method === 'PUT' && sha256 !== undefined) request.headers['x-amz-content-sha256'] = sha256;
      return next(context);
    },
    { step: 'build', name: 'signWhatIsKept' },
  );
  return client;
};

/**
 * What the store answers, in the errors of this application.
 * @throws FileMissingError, FilesAwayError
 */
export async function asked<T>(ask: () => Promise<T>): Promise<T> {
  try {
    return await traced('object store', {}, ask);
  } catch (error) {
    // Without its bucket the store itself is not there, whatever is in it.
    if (
      error instanceof S3ServiceException &&
      [404, 416].includes(error.$metadata.httpStatusCode ?? 0) &&
      error.name !== 'NoSuchBucket'
    )
      throw new FileMissingError();
    throw new FilesAwayError(error);
  }
}
