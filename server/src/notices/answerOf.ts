/** So much of what is answered is kept. */
const longestAnswer = 200

/** What somebody answered whom a notice was sent to, in a line: of a body its first piece alone is read, however much would follow. */
export async function answerOf({ status, statusText, body }: Response): Promise<string> {
  const reader = body?.getReader()
  const first = await reader?.read()
  await reader?.cancel()
  const said = Buffer.from(first?.value ?? [])
    .toString('utf8')
    .slice(0, longestAnswer)
    .replace(/\s+/g, ' ')
    .trim()
  return `${status} ${statusText}${said === '' ? '' : `: ${said}`}`
}
