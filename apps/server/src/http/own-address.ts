import type { Request } from 'express';
import type { Configuration } from '../config.ts';

/**
 * What the addresses begin with that this server gives to people: `https://desk.example`. Where `PUBLIC_URL` is not set it is what the one who asks called
 * the server by; anybody can write that, so a real school sets it.
 */
export const ownAddress = ({ PUBLIC_URL }: Configuration, request: Request): string =>
  PUBLIC_URL ?? `${request.protocol}://${request.get('host') ?? ''}`;
