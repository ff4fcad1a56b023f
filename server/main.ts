import { readConfig } from './platform/config.ts';
import { loadDemo } from './projects/loadDemo.ts';
import { createLog } from './platform/log.ts';
import { onStop } from './platform/onStop.ts';
import { startServer } from './startServer.ts';

const log = createLog('server');
process.umask(0o077);
try {
  const config = await readConfig();
  const server = await startServer(config, log);
  onStop(() => server.stop());
  if (config.demo) {
    await loadDemo(server, config.home, config.demo.folder, () =>
      process.send?.({ note: 'Making the demo project, once; this takes ten seconds or so ...' }),
    );
  }
  process.send?.({ ready: true, port: server.port, token: config.token });
} catch (error) {
  log.fatal({ err: error }, 'The server did not start');
  process.send?.({
    ready: false,
    code: (error as NodeJS.ErrnoException).code ?? null,
    message: (error as Error).message,
  });
  process.exitCode = 1;
  process.disconnect?.();
}
