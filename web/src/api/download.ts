/** Hand a file that the server made to the person. */
export function saveFile(data: Blob, name: string) {
  const address = URL.createObjectURL(data);
  const link = document.createElement("a");
  link.href = address;
  link.download = name;
  link.click();
  window.setTimeout(() => URL.revokeObjectURL(address), 10_000);
}
