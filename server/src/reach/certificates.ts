import { X509Certificate } from 'node:crypto'
import { type FSWatcher, readFileSync, watch } from 'node:fs'
import { basename, dirname } from 'node:path'
import { createSecureContext } from 'node:tls'
import debounce from 'lodash-es/debounce.js'
import type { Logger } from 'pino'
import { ConfigError } from '../config.ts'

/** Where certificate and key lie, PEM; the certificate may be followed by those that lead to its authority. */
export interface CertificateFiles {
  readonly cert: string
  readonly key: string
}

/** A certificate and its key, as TLS servers take them. */
export interface Pair {
  readonly cert: Buffer
  readonly key: Buffer
}

/** Whoever renews writes two files: this long after the last of them they are read, ms. */
const settling = 300

/** The certificate of the server. It is read anew when its files change, so that renewing it needs no restart. */
export class Certificates {
  readonly #files: CertificateFiles
  readonly #log: Logger
  readonly #watchers: FSWatcher[]
  readonly #listeners: ((pair: Pair) => void)[] = []
  #pair: Pair

  /** @throws ConfigError when the files cannot be used */
  constructor(files: CertificateFiles, log: Logger) {
    this.#files = files
    this.#log = log
    try {
      this.#pair = read(files)
    } catch (error) {
      throw new ConfigError(
        `TLS_CERT "${files.cert}" with TLS_KEY "${files.key}" cannot be used: ${reason(error)}.`,
      )
    }
    const look = debounce(() => this.#look(), settling)
    // The folder is watched, not the file: whoever renews may put another file in its place.
    this.#watchers = [...new Set([files.cert, files.key].map((file) => dirname(file)))].map((folder) =>
      watch(folder, (_, name) => {
        if (name === null || [files.cert, files.key].some((file) => basename(file) === name)) look()
      }).on('error', (error) => log.warn({ err: error }, 'a renewed certificate would not be noticed')),
    )
  }

  get pair(): Pair {
    return this.#pair
  }

  get leaf(): X509Certificate {
    return new X509Certificate(this.#pair.cert)
  }

  /** The names it holds for, besides addresses. */
  get names(): string[] {
    return (this.leaf.subjectAltName ?? '')
      .split(', ')
      .flatMap((each) => (each.startsWith('DNS:') ? each.slice('DNS:'.length) : []))
  }

  /** Calls back with a certificate that was renewed. */
  onRenewed(listener: (pair: Pair) => void): void {
    this.#listeners.push(listener)
  }

  close(): void {
    for (const watcher of this.#watchers) watcher.close()
  }

  #look(): void {
    try {
      const pair = read(this.#files)
      if (pair.cert.equals(this.#pair.cert) && pair.key.equals(this.#pair.key)) return
      this.#pair = pair
      this.#log.info({ validTo: this.leaf.validTo }, 'the certificate was renewed')
      for (const listener of this.#listeners) listener(pair)
    } catch (error) {
      // Half of it may have been written; the old one holds until both fit.
      this.#log.warn(`the renewed certificate cannot be used, the old one stays: ${reason(error)}`)
    }
  }
}

/** @throws where one of the files is missing, is no PEM, or they do not fit together */
function read({ cert, key }: CertificateFiles): Pair {
  const pair = { cert: readFileSync(cert), key: readFileSync(key) }
  createSecureContext(pair)
  return pair
}

const reason = (error: unknown): string => (error instanceof Error ? error.message : String(error))
