// Jest runs tests in a context whose globals are slow to reach. Each module gets a name of its own for the one that loops over
// samples live on: the tests of measuring take a quarter of the time.
import { createTransformer as swc } from '@swc/jest';

const OWN_MATH = 'const { Math } = globalThis;';

/** @param {object} options of SWC */
function createTransformer(options) {
  /** @type {any} */
  const inner = swc(options);
  const own = (/** @type {{ code: string }} */ result) => ({ ...result, code: OWN_MATH + result.code });
  return {
    ...inner,
    process: (/** @type {unknown[]} */ ...from) => own(inner.process(...from)),
    processAsync: async (/** @type {unknown[]} */ ...from) => own(await inner.processAsync(...from)),
  };
}

export default { createTransformer };
