/** Gives somebody a file to keep: a link that is followed once. @param url of what is in it. */
export function handOut(url: string, name: string): void {
  const link = document.createElement('a');
  link.href = url;
  link.download = name;
  link.click();
}

/** The same for what is in memory. */
export function handOutFile(content: Blob, name: string): void {
  const url = URL.createObjectURL(content);
  handOut(url, name);
  setTimeout(() => {
    URL.revokeObjectURL(url);
  }, 1000);
}
