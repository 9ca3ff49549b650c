import { textWidth } from '../instrument/index.ts'

/** Breaks a text into lines where there is no more room; a word that is longer than a line stays whole. @param width px */
export function wrapped(text: string, width: number, size: number): string[] {
  return text.split('\n').flatMap((paragraph) => {
    const lines: string[] = []
    for (const word of paragraph.split(' ')) {
      const line = lines.at(-1)
      const longer = line === undefined ? word : `${line} ${word}`
      if (line !== undefined && textWidth(longer, size) <= width) lines[lines.length - 1] = longer
      else lines.push(word)
    }
    return lines
  })
}
