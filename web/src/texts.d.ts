/** Files that the build takes in as they are: pages as text, pictures as an address. */
declare module '*.md' {
  const text: string;
  export default text;
}
declare module '*.png' {
  const address: string;
  export default address;
}
