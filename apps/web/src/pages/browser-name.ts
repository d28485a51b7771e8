import Bowser from 'bowser';

/** What a browser says of itself, in words. */
export function browserName(text: string): string {
  if (text === '') return 'A browser that does not say which it is';
  const { browser, os } = Bowser.parse(text);
  return [browser.name ?? 'A program', os.name && `on ${os.name}`].filter(Boolean).join(' ');
}
