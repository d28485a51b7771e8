import { format, formatDistanceToNowStrict, isThisYear } from 'date-fns';

/** “3 days ago”, “in 2 hours”. */
export const ago = (iso: string): string => formatDistanceToNowStrict(new Date(iso), { addSuffix: true });

/** “3 days”: how long something waits. */
export const waits = (iso: string): string => formatDistanceToNowStrict(new Date(iso));

/** “Mon 23 Nov, 18:00”. */
export const day = (iso: string): string =>
  format(new Date(iso), isThisYear(new Date(iso)) ? 'EEE d MMM, HH:mm' : 'EEE d MMM yyyy, HH:mm');
