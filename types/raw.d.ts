/** A file's text, taken into the bundle. */
declare module '*?raw' {
  const text: string;
  export default text;
}
