import { stat } from 'node:fs/promises';
import { CLIP_LIMITS, ClipError, NothingSeenError } from './clip-error.ts';
import type { ClipType } from './clip-type.ts';
import { runTool, TOOL_LIMITS } from './run-tool.ts';

/** What a clip says of itself, before any of it is decoded. */
export interface Probe {
  readonly codec: string;
  /** As it is to be seen, upright. */
  readonly width: number;
  readonly height: number;
  /** Frames a second; 0 where it says nothing. */
  readonly rate: number;
  /** Smallest step of its times, seconds. */
  readonly tick: number;
  readonly seconds: number;
  /** How many pictures there are: counted, or as long as it says it is. */
  readonly pictures: number;
  readonly transparent: boolean;
  readonly hasSound: boolean;
  /** The matrix of its colours, where it names none that of its size. */
  readonly matrix: 'bt709' | 'bt601' | 'named';
}

interface Stream {
  readonly codec_type?: string;
  readonly codec_name?: string;
  readonly width?: number;
  readonly height?: number;
  readonly r_frame_rate?: string;
  readonly avg_frame_rate?: string;
  readonly time_base?: string;
  readonly duration?: string;
  readonly nb_read_packets?: string;
  readonly nb_frames?: string;
  readonly pix_fmt?: string;
  readonly color_space?: string;
  readonly tags?: { readonly DURATION?: string };
  readonly side_data_list?: readonly { readonly rotation?: number }[];
}

const CODECS = [
  'h264',
  'hevc',
  'vp8',
  'vp9',
  'av1',
  'gif',
  'apng',
  'png',
  'mjpeg',
  'mpeg4',
  'prores',
  'qtrle',
  'ffv1',
  'rawvideo',
];
/** Bytes and time that are looked at to find out what is there. */
const LOOK = ['-probesize', '20M', '-analyzeduration', '10M'];

/** How ffmpeg is told to open a clip: as what it was found to be and nothing else, from this file and no other. */
export const openAs = ({ demuxer }: ClipType, path: string): string[] => [
  '-protocol_whitelist',
  'file',
  ...LOOK,
  '-f',
  demuxer,
  '-i',
  `file:${path}`,
];

/** Clips up to this size are counted picture by picture whenever they are looked at, bytes. */
const COUNTED_AT_ONCE = 32 * 1024 * 1024;

/**
 * Asks ffprobe what is in a clip.
 *
 * @param everyPicture whether its pictures are counted however large it is: it is to be decoded
 * @throws ClipError where there is no picture in it, or more than may be
 */
export async function probe(path: string, type: ClipType, everyPicture = false): Promise<Probe> {
  const counts = everyPicture || (await stat(path)).size <= COUNTED_AT_ONCE;
  const entries =
    'stream=codec_type,codec_name,width,height,r_frame_rate,avg_frame_rate,time_base,duration,nb_frames,nb_read_packets,pix_fmt,color_space:stream_tags=DURATION:stream_side_data=rotation:format=duration';
  let text = '';
  const code = await runTool(
    'ffprobe',
    [
      ...['-v', 'error', ...openAs(type, path), ...(counts ? ['-count_packets'] : [])],
      ...['-show_entries', entries, '-of', 'json'],
    ],
    {
      limits: { ...TOOL_LIMITS, seconds: everyPicture ? 120 : 20 },
      onOutput: async (output) => {
        for await (const chunk of output) if (text.length < 1e6) text += String(chunk);
      },
    },
  );
  const parsed = json(text);
  const streams = parsed?.streams ?? [];
  if (code !== 0 || !parsed) throw new ClipError(broken(type));
  const video = streams.find(({ codec_type }) => codec_type === 'video');
  if (!video) throw new NothingSeenError('there is no picture in it, only sound or data');
  const { codec_name: codec = 'unknown', width = 0, height = 0 } = video;
  if (codec === 'unknown' || !(width > 0 && height > 0)) throw new ClipError(broken(type));
  if (!CODECS.includes(codec))
    throw new ClipError(`its pictures are coded as “${codec}”, which can't be read; export it as H.264 or VP9`);
  refuseSize(width, height);
  const average = ratio(video.avg_frame_rate);
  const rate = average > 0 && average <= 1000 ? average : ratio(video.r_frame_rate);
  refuseRate(average);
  const hasSound = streams.some(({ codec_type }) => codec_type === 'audio');
  const counted = Number(video.nb_read_packets ?? 0) || 0;
  // The whole lasts as long as what lasts longest in it: where that may be its sound, its pictures are asked.
  const whole = hasSound && counted > 0 && rate > 0 ? counted / rate : Number(parsed.format?.duration ?? 0);
  const seconds = Number(video.duration ?? 0) || onTheClock(video.tags?.DURATION) || whole || 0;
  refuseLength(seconds);
  const said = Math.max(Number(video.nb_frames ?? 0) || 0, Math.round(seconds * rate));
  const pictures = counted || said;
  const most = type.demuxer === 'gif' || type.demuxer === 'apng' ? CLIP_LIMITS.stillPixels : CLIP_LIMITS.videoPixels;
  refusePixels(width, height, Math.max(pictures, said), most);
  const turned = Math.abs(video.side_data_list?.find(({ rotation }) => rotation !== undefined)?.rotation ?? 0) % 180;
  const [across, down] = turned === 90 ? [height, width] : [width, height];
  const named = video.color_space !== undefined && video.color_space !== 'unknown' && video.color_space !== 'reserved';
  return {
    codec,
    width: across,
    height: down,
    rate,
    tick: ratio(video.time_base) || 0.001,
    seconds,
    pictures,
    hasSound,
    transparent: /^(rgba|bgra|argb|abgr|gbrap|yuva|ya8|ya16|pal8|rgba64)/.test(video.pix_fmt ?? ''),
    matrix: named ? 'named' : Math.max(width, height) >= 1280 ? 'bt709' : 'bt601',
  };
}

/**
 * Asks ffprobe whether something can be heard in a file.
 * @throws ClipError where nothing can, or for longer than may be
 */
export async function probeSound(path: string, type: ClipType): Promise<void> {
  let text = '';
  const entries = 'stream=codec_type,codec_name,duration:format=duration';
  const code = await runTool(
    'ffprobe',
    ['-v', 'error', ...openAs(type, path), '-show_entries', entries, '-of', 'json'],
    {
      limits: { ...TOOL_LIMITS, seconds: 20 },
      onOutput: async (output) => {
        for await (const chunk of output) if (text.length < 1e6) text += String(chunk);
      },
    },
  );
  const parsed = json(text);
  const sound = parsed?.streams?.find(({ codec_type }) => codec_type === 'audio');
  if (code !== 0 || !parsed) throw new ClipError(broken(type));
  if (!sound || (sound.codec_name ?? 'unknown') === 'unknown') throw new ClipError('there is no sound in it');
  refuseLength(Number(sound.duration ?? parsed.format?.duration ?? 0) || 0);
}

const broken = ({ name }: ClipType): string =>
  `it can't be read as ${name}: it is broken, or cut off near its beginning; export it again`;

/** @throws ClipError where pictures are larger than may be */
export function refuseSize(width: number, height: number): void {
  if (Math.max(width, height) > CLIP_LIMITS.side)
    throw new ClipError(
      `its pictures are ${width} × ${height}; up to ${CLIP_LIMITS.side} on the longer side can be taken: export it smaller`,
    );
}

/** @throws ClipError where all pictures together have more pixels than are decoded, before any of them is */
export function refusePixels(width: number, height: number, pictures: number, most: number): void {
  if (width * height * pictures <= most) return;
  const fits = Math.floor(most / (width * height));
  throw new ClipError(
    `it has ${pictures} pictures of ${width} × ${height}; of that size up to ${fits} can be taken: export it smaller, or hand in the part the exercise is about`,
  );
}

/** @throws ClipError where there are more frames a second than may be */
export function refuseRate(fps: number): void {
  if (fps > CLIP_LIMITS.fps * 1.01)
    throw new ClipError(
      `it runs at ${Math.round(fps)} frames a second; up to ${CLIP_LIMITS.fps} can be taken: export it at the rate of the exercise`,
    );
}

/** @throws ClipError where it goes on for longer than may be */
export function refuseLength(seconds: number): void {
  if (seconds > CLIP_LIMITS.seconds + 1)
    throw new ClipError(
      `it is ${Math.round(seconds)} seconds long; up to ${CLIP_LIMITS.seconds} can be taken: hand in the part the exercise is about`,
    );
}

function json(text: string): { streams?: Stream[]; format?: { duration?: string } } | undefined {
  try {
    return JSON.parse(text) as { streams?: Stream[]; format?: { duration?: string } };
  } catch {
    return undefined;
  }
}

/** “00:00:01.5” in seconds; 0 where it is no such time. */
function onTheClock(text: string | undefined): number {
  const seconds = (text ?? '').split(':').reduce((sum, part) => 60 * sum + Number(part), 0);
  return Number.isFinite(seconds) ? seconds : 0;
}

/** “24000/1001” as a number; 0 where it is none. */
function ratio(text: string | undefined): number {
  const [a, b = '1'] = (text ?? '').split('/');
  const value = Number(a) / Number(b);
  return Number.isFinite(value) && value > 0 ? value : 0;
}
