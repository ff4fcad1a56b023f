import { spawn } from 'node:child_process';
import { openSync } from 'node:fs';
import { SetupProblem } from './setupProblem.mjs';

const STOP_MS = 8000;
// What the programs make is mostly short-lived; left to itself V8 keeps tens of megabytes of it.
const SHORT_LIVED = '--max-semi-space-size=4';

/**
 * Starts one of our programs, built or in TypeScript, as a process of its own, outside the terminal's group, so
 * that Ctrl-C reaches it through us, in order. Its log goes to a file.
 */
export function startProgram(path, environment, logFile) {
  const log = openSync(logFile, 'a');
  const child = spawn(process.execPath, path.endsWith('.ts') ? ['--import', 'tsx', path] : [SHORT_LIVED, path], {
    env: { ...process.env, ...environment },
    stdio: ['ignore', log, log, 'ipc'],
    detached: true,
  });
  const ended = new Promise((resolve) => {
    child.once('exit', resolve);
  });
  return {
    child,
    ended,
    stop: async () => {
      if (child.exitCode !== null || child.signalCode !== null) return;
      child.kill('SIGTERM');
      const timer = setTimeout(() => child.kill('SIGKILL'), STOP_MS);
      await ended;
      clearTimeout(timer);
    },
  };
}

/** Waits for the server's word. @returns its port, and the token that lets a browser in (null: nobody is asked) */
export function serverReady({ child, ended }, logFile) {
  return new Promise((resolve, reject) => {
    child.on('message', (message) => {
      if (message.note) console.log(message.note);
      else if (message.ready) resolve({ port: message.port, token: message.token });
      else reject(new SetupProblem(startFailure(message, logFile)));
    });
    void ended.then(() => reject(new SetupProblem(`The server ended while starting; ${logFile} says why.`)));
  });
}

function startFailure({ code, message }, logFile) {
  if (code === 'EADDRINUSE') return 'The port was taken while starting. Choose another: PORT=4900 npm start';
  if (code === 'ENOSPC') return 'There is no room on the disk. Free some and start again.';
  if (code === 'ECONNREFUSED' || /ECONNREFUSED|ENOTFOUND|authentication failed/.test(message)) {
    return 'The database does not answer. Check DATABASE_URL, or leave it out to use the one that comes along.';
  }
  return `The server did not start (${message}); ${logFile} says more.`;
}
