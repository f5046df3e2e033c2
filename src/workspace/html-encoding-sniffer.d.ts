declare module 'html-encoding-sniffer' {
  /** The encoding of an HTML page by the HTML standard's sniffing algorithm, as a label of the Encoding standard. */
  export default function sniff(
    bytes: Uint8Array,
    options?: { transportLayerEncodingLabel?: string; defaultEncoding?: string },
  ): string;
}
