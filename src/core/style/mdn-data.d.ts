declare module 'mdn-data' {
  const mdn: { css: { properties: Record<string, { initial: string | string[] }> } };
  export default mdn;
}
