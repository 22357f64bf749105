import { ask } from './client.js';

/**
 * Saves what a request answers as a file.
 * @throws ApiFailure; and where the answer breaks off: half a file is not saved
 */
export async function saveAnswer(path: string, body: unknown, name: string): Promise<void> {
  const response = await ask(path, { method: 'post', body, accept: '*/*' });
  const address = URL.createObjectURL(await response.blob());
  const link = document.createElement('a');
  link.href = address;
  link.download = name;
  link.click();
  URL.revokeObjectURL(address);
}
