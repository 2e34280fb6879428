/** The bytes of a file in base64. */
export function base64Of(file: File): Promise<string> {
  return new Promise((resolve, reject) => {
    const reader = new FileReader();
    reader.onload = () => resolve((typeof reader.result === 'string' ? reader.result : '').replace(/^data:[^,]*,/, ''));
    reader.onerror = () => reject(new Error(`“${file.name}” could not be read from this computer.`));
    reader.readAsDataURL(file);
  });
}
