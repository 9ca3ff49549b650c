/** A link of the server's as people reach it, who may sit at another machine. */
export const at = ({ people }, link) => {
  const { pathname, hash } = new URL(link)
  return new URL(pathname + hash, people.url).href
}
