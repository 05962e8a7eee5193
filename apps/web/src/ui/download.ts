/** Has the browser fetch what lies at an address, as a file. */
export function download(address: string, name: string): void {
  const link = document.createElement('a');
  link.href = address;
  link.download = name;
  link.click();
}
