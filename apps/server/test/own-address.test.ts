import type { Request } from 'express';
import { readConfiguration } from '../src/config.ts';
import { ownAddress } from '../src/http/own-address.ts';

const NEEDED = {
  DATABASE_URL: 'postgres://localhost/x',
  FILES_DIR: '/tmp/x',
  SESSION_SECRET: 'only for tests, on the loopback, thrown away',
};
/** A request by somebody who calls the server by a name of their own. */
const asking = { protocol: 'http', get: () => 'elsewhere.example' } as unknown as Request;

test('what people are given begins with the address that is configured, whatever who asks calls the server', () => {
  const configured = readConfiguration({ ...NEEDED, PUBLIC_URL: 'https://desk.example/' });
  expect(ownAddress(configured, asking)).toBe('https://desk.example');
  expect(ownAddress(readConfiguration(NEEDED), asking)).toBe('http://elsewhere.example');
});

test.each(['desk.example', 'ftp://desk.example', 'javascript:alert(1)'])('%s is no such address', (address) => {
  expect(() => readConfiguration({ ...NEEDED, PUBLIC_URL: address })).toThrow(
    'PUBLIC_URL: this must be an address such as https://desk.example',
  );
});
