import {
  ArrowLeftRight,
  Box,
  PencilLine,
  Fullscreen,
  RotateCw,
  SquareArrowDown,
  SquareUser,
  Video,
} from 'lucide-react';
import type { ReactNode } from 'react';
import type { ShotCamera } from '@ypsigraph/core/motion/motion';
import { useDesk } from './desk-store.ts';
import type { FrameSource } from './frames/frame-source.ts';
import type { View, ViewRig } from './paper/view-rig.ts';

type Desk = ReturnType<typeof useDesk.getState>;

/** A way to look at what is on the paper. */
export interface ViewTool {
  readonly id: string;
  readonly key: string;
  readonly icon: ReactNode;
  readonly text: string;
  readonly on: (desk: Desk) => boolean;
  readonly act: (rig: ViewRig) => void;
}

const seenFrom = (view: Exclude<View, 'free'>, key: string, icon: ReactNode, text: string): ViewTool => ({
  id: view,
  key,
  icon,
  text,
  on: (desk) => desk.view === view,
  act: (rig) => {
    rig.look(view);
    useDesk.getState().set({ view });
  },
});

/** Where the file has a camera, what it saw … */
const THROUGH_ITS_CAMERA = seenFrom('shot', '0', <Video size={16} />, 'Through the shot’s own camera');

/** … what can be walked round is seen from its sides … */
const AROUND: readonly ViewTool[] = [
  seenFrom('side', 'a', <ArrowLeftRight size={16} />, 'From the side'),
  seenFrom('front', 's', <SquareUser size={16} />, 'From the front'),
  seenFrom('above', 'd', <SquareArrowDown size={16} />, 'From above'),
  seenFrom('three-quarter', 'f', <Box size={16} />, 'Three-quarter'),
];

/** … and a picture is turned over, round, or looked at more closely. */
const FLAT: readonly ViewTool[] = [
  {
    id: 'mirrored',
    key: 'a',
    icon: <ArrowLeftRight size={16} />,
    text: 'Mirrored',
    on: ({ mirrored }) => mirrored,
    act: () => useDesk.getState().set({ mirrored: !useDesk.getState().mirrored }),
  },
  {
    id: 'turned',
    key: 's',
    icon: <RotateCw size={16} />,
    text: 'A quarter turn to the right',
    on: ({ turned }) => turned > 0,
    act: () => useDesk.getState().set({ turned: (useDesk.getState().turned + 1) % 4 }),
  },
  {
    id: 'stronger',
    key: 'd',
    icon: <PencilLine size={16} />,
    text: 'Faint pencil made stronger',
    on: ({ stronger }) => stronger,
    act: () => useDesk.getState().set({ stronger: !useDesk.getState().stronger }),
  },
  {
    id: 'whole',
    key: 'f',
    icon: <Fullscreen size={16} />,
    text: 'The whole picture',
    on: () => false,
    act: (rig) => rig.look('side'),
  },
];

/** A puppet is seen as its picture shows it. */
const PUPPET: readonly ViewTool[] = [seenFrom('side', 'f', <Fullscreen size={16} />, 'The whole picture')];

/** The ways in which a source can be looked at. */
export const viewsOf = (source: FrameSource | undefined): readonly ViewTool[] =>
  source?.flat
    ? FLAT
    : source?.figure?.shown.isFlat
      ? PUPPET
      : cameraOf(source)
        ? [THROUGH_ITS_CAMERA, ...AROUND]
        : AROUND;

/** The shot's own camera, where its file has one. */
export const cameraOf = (source: FrameSource | undefined): ShotCamera | undefined =>
  source?.figure?.shown.played.motion.cameras?.[0];

/** Each key's ways, for the list of keys. */
export const VIEW_KEYS = [
  { key: THROUGH_ITS_CAMERA.key, text: `${THROUGH_ITS_CAMERA.text.toLowerCase()}, where it has one` },
  ...AROUND.map(({ key, text }, k) => ({
    key,
    text: `${text.toLowerCase()}; of pictures: ${FLAT[k]!.text.toLowerCase()}`,
  })),
];
