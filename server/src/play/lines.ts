/** Lines of a stream as they come. Of one that never ends no more than the longest is held. */
import { StringDecoder } from 'node:string_decoder';

/**
 * @param longest in letters: of a longer line as much and one letter more is given, and the rest of it is passed over
 */
export async function* linesOf(stream: AsyncIterable<Buffer | string>, longest: number): AsyncGenerator<string> {
  const decoder = new StringDecoder('utf8');
  let rest = '';
  let isPassedOver = false;
  for await (const chunk of stream) {
    const lines = (rest + (typeof chunk === 'string' ? chunk : decoder.write(chunk))).split('\n');
    rest = lines.pop() ?? '';
    for (const line of lines) {
      if (!isPassedOver) yield withoutReturn(line);
      isPassedOver = false;
    }
    if (rest.length <= longest) continue;
    if (!isPassedOver) yield rest.slice(0, longest + 1);
    isPassedOver = true;
    rest = '';
  }
  rest += decoder.end();
  if (rest !== '' && !isPassedOver) yield withoutReturn(rest);
}

const withoutReturn = (line: string): string => (line.endsWith('\r') ? line.slice(0, -1) : line);
