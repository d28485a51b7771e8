import { type AddressInfo, connect, createServer, type Socket } from 'node:net';

/** What lies between a process and its database: passes everything on, until it is told otherwise. */
export interface Cable {
  /** The database's address by this way. */
  readonly url: string;
  /** Passes nothing on and lets nothing end: as a cable that is cut, or a database that hangs. */
  hang(): void;
  /** Ends every connection and takes none, as a database that died. */
  refuse(): void;
  /** Takes connections again; those of before are gone. */
  mend(): void;
  end(): void;
}

/** @param database the address of a PostgreSQL database */
export async function layCable(database: string): Promise<Cable> {
  const url = new URL(database);
  const [host, port] = [url.hostname, Number(url.port)];
  const sockets = new Set<Socket>();
  let state: 'passes on' | 'hangs' | 'refuses' = 'passes on';
  const keep = (socket: Socket): void => {
    sockets.add(socket);
    socket.on('error', () => undefined).on('close', () => sockets.delete(socket));
  };
  const between = createServer((socket) => {
    if (state === 'refuses') return void socket.destroy();
    keep(socket);
    if (state === 'hangs') return;
    const other = connect(port, host);
    keep(other);
    socket.pipe(other).pipe(socket);
  });
  await new Promise<void>((resolve) => between.listen(0, '127.0.0.1', resolve));
  url.port = String((between.address() as AddressInfo).port);
  const cut = (): void => {
    for (const socket of sockets) socket.destroy();
  };
  return {
    url: url.href,
    hang: () => {
      state = 'hangs';
      for (const socket of sockets) socket.pause().unpipe();
    },
    refuse: () => {
      state = 'refuses';
      cut();
    },
    mend: () => {
      state = 'passes on';
      cut();
    },
    end: () => {
      cut();
      between.close();
    },
  };
}
