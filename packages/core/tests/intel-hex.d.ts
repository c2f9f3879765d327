declare module 'intel-hex' {
  const intelHex: {
    parse(
      text: string,
      bufferSize?: number,
    ): { data: Buffer; startSegmentAddress: number | null; startLinearAddress: number | null }
  }
  export default intelHex
}
