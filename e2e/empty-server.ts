import { spawn, type ChildProcess } from 'node:child_process';
import { createInterface } from 'node:readline';

export interface EmptyServer {
  readonly server: ChildProcess;
  readonly baseUrl: string;
  /** Asked for by whoever makes the first account. */
  readonly code: string;
}

/** A server on an empty folder, and the code that it prints. */
export async function startEmpty(folder: string): Promise<EmptyServer> {
  const server = spawn(process.execPath, ['dist/node/main.js'], {
    env: { ...process.env, ZORVET_DATA: folder, PORT: '0', LOG_LEVEL: 'info', ZORVET_BACKUPS: 'off' },
    stdio: ['ignore', 'pipe', 'inherit'],
  });
  let port = '';
  const code = await new Promise<string>((resolve, reject) => {
    server.once('exit', (status) => {
      reject(new Error(`the server ended with ${String(status)}`));
    });
    createInterface({ input: server.stdout }).on('line', (line) => {
      port = /"port":(\d+)/.exec(line)?.[1] ?? port;
      const found = /"code":"([\d-]+)"/.exec(line)?.[1];
      if (found !== undefined) resolve(found);
    });
  });
  return { server, baseUrl: `http://127.0.0.1:${port}`, code };
}
