import { setFlagsFromString } from 'node:v8';
import { canFuse } from '../kernels/instantiateKernel.ts';

/** Runs tests with the kernels as they are built with fused products, and as they are built without. */
export function withEitherKernels(tests: () => void): void {
  const usually = canFuse();
  describe.each([
    { products: 'fused', isFused: true },
    { products: 'in two steps', isFused: false },
  ])('products $products', ({ isFused }) => {
    const fuse = (on: boolean): void => setFlagsFromString(`--${on ? '' : 'no-'}experimental-wasm-relaxed-simd`);
    beforeAll(() => {
      fuse(isFused);
      expect(canFuse()).toBe(isFused);
    });
    afterAll(() => fuse(usually));
    tests();
  });
}
