import { useRoom } from '../api/data.ts';

const megabytes = (bytes: number): string => `${Math.ceil(bytes / 1_048_576)} MB`;

/** How much of their room a student's files take. */
export function RoomLine() {
  const { data: room } = useRoom();
  if (!room) return null;
  return (
    <p className="text-sm text-graphite" data-testid="room">
      Your files take {megabytes(room.used)} of the {megabytes(room.most)} you have.
    </p>
  );
}
