declare module 'heic-decode' {
  interface Picture {
    width: number;
    height: number;
    data: Uint8ClampedArray;
  }
  const decode: {
    (input: { buffer: Uint8Array }): Promise<Picture>;
    all(input: {
      buffer: Uint8Array;
    }): Promise<{ width: number; height: number; decode(): Promise<Picture> }[]>;
  };
  export default decode;
}
