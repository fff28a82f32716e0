/** Headers of an answer that is written as it comes: neither kept, nor changed, nor held back by a proxy (nginx's own header). */
export const AS_IT_COMES = { 'cache-control': 'no-store, no-transform', 'x-accel-buffering': 'no' };
