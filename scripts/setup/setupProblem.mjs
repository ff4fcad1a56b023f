/** Something a person can mend, in one sentence. Printed without a stack trace. */
export class SetupProblem extends Error {}

/** Runs a script's main part; a SetupProblem becomes its sentence and exit status 1. */
export async function runScript(main) {
  try {
    await main();
  } catch (error) {
    if (!(error instanceof SetupProblem)) throw error;
    console.error(error.message);
    process.exitCode = 1;
  }
}

/** @param {unknown} error of the system */
export function codeOf(error) {
  return String(/** @type {NodeJS.ErrnoException} */ (error).code);
}
