import { setFlagsFromString } from 'node:v8';
import { canFuse } from '../kernels/instantiateKernel.ts';

/** Runs tests with the kernels as they are built with fused products, and as they are built without. */
export function withEitherKernels(tests: () => void): void {
  describe.each([
    { products: 'fused', isFused: true },
    { products: 'in two steps', isFused: false },
  ])('products $products', ({ isFused }) => {
    beforeAll(() => {
      setFlagsFromString(`--${isFused ? '' : 'no-'}experimental-wasm-relaxed-simd`);
      expect(canFuse()).toBe(isFused);
    });
    afterAll(() => setFlagsFromString('--no-experimental-wasm-relaxed-simd'));
    tests();
  });
}
