declare module 'three/examples/jsm/libs/draco/gltf/draco_decoder.js' {
  const decoder: () => Promise<unknown>;
  export default decoder;
}
