/** The decoder of packed numbers in plain JavaScript: pages whose policy lets no WebAssembly run can read packed files as well. */
declare module 'meshoptimizer/meshopt_decoder_reference.js' {
  export { MeshoptDecoder } from 'meshoptimizer';
}
