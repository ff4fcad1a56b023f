// Sums of products. Built twice: with relaxed SIMD (WebAssembly 3.0) product and sum are one instruction where the processor has one, rounded once instead of
// twice; without it they are two. The plain versions in TypeScript hold both. So it is with bytes that are put elsewhere.

// @ts-nocheck: AssemblyScript, compiled by build.mjs

/** a b + c, lane by lane. */
// @ts-ignore: decorator
@inline
export function fused(a: v128, b: v128, c: v128): v128 {
  return ASC_FEATURE_RELAXED_SIMD ? f64x2.relaxed_madd(a, b, c) : f64x2.add(f64x2.mul(a, b), c);
}

/** c − a b, lane by lane. */
// @ts-ignore: decorator
@inline
export function lessFused(a: v128, b: v128, c: v128): v128 {
  return ASC_FEATURE_RELAXED_SIMD ? f64x2.relaxed_nmadd(a, b, c) : f64x2.sub(c, f64x2.mul(a, b));
}

/** a b + c, lane by lane, in single precision. */
// @ts-ignore: decorator
@inline
export function fusedSingles(a: v128, b: v128, c: v128): v128 {
  return ASC_FEATURE_RELAXED_SIMD ? f32x4.relaxed_madd(a, b, c) : f32x4.add(f32x4.mul(a, b), c);
}

/** Each byte is the one of `bytes` at that place; a place of 128 is zero. */
// @ts-ignore: decorator
@inline
export function placed(bytes: v128, places: v128): v128 {
  return ASC_FEATURE_RELAXED_SIMD ? i8x16.relaxed_swizzle(bytes, places) : i8x16.swizzle(bytes, places);
}
