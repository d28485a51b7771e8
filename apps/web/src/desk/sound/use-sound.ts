import { useEffect, useState } from 'react';
import { toast } from 'sonner';
import type { FrameClock } from '../frames/frame-clock.ts';
import type { HeardSound } from './heard-sound.ts';
import { SoundPlayer, type SoundOutput } from './sound-player.ts';

/** Ends are drawn in over so long, so that they do not click, seconds. */
const SOFT = 0.005;

/** A decoded sound in the browser's own output. */
const outputOf = (context: AudioContext, buffer: AudioBuffer): SoundOutput => ({
  now: () => context.currentTime,
  play(from, seconds) {
    // Whoever has not touched the page yet hears nothing of it.
    void context.resume();
    const [source, gain] = [context.createBufferSource(), context.createGain()];
    const now = context.currentTime;
    const length = Math.min(seconds, buffer.duration - from);
    if (length <= 2 * SOFT) return () => undefined;
    gain.gain.setValueAtTime(0, now);
    gain.gain.linearRampToValueAtTime(1, now + SOFT);
    gain.gain.setValueAtTime(1, now + length - SOFT);
    gain.gain.linearRampToValueAtTime(0, now + length);
    source.buffer = buffer;
    source.connect(gain).connect(context.destination);
    source.start(now, from, length);
    return () => {
      const at = context.currentTime;
      gain.gain.cancelScheduledValues(at);
      gain.gain.setValueAtTime(gain.gain.value, at);
      gain.gain.linearRampToValueAtTime(0, at + SOFT);
      source.stop(at + SOFT);
    };
  },
});

/**
 * Lets the sound of a shot be heard while it is on.
 * @returns whether it can be heard by now
 */
export function useSound(clock: FrameClock, sound: HeardSound | undefined, on: boolean): boolean {
  const [ready, setReady] = useState<string>();
  useEffect(() => {
    if (!sound || !on) return;
    const context = new AudioContext();
    let player: SoundPlayer | undefined;
    let gone = false;
    void (async () => {
      try {
        const answer = await fetch(sound.address);
        if (!answer.ok) throw new Error(`the server answered ${answer.status}`);
        const buffer = await context.decodeAudioData(await answer.arrayBuffer());
        if (gone) return;
        player = new SoundPlayer(clock, sound, outputOf(context, buffer));
        setReady(sound.address);
      } catch (error) {
        if (!gone) toast.error('The sound can’t be heard.', { description: (error as Error).message });
      }
    })();
    return () => {
      gone = true;
      player?.end();
      void context.close();
      setReady(undefined);
    };
  }, [clock, sound, on]);
  return on && sound !== undefined && ready === sound.address;
}
