/** Who is signed in, where that is needed: one for the whole page. What is being done waits until somebody has signed in again. */
import { api, refusedBy } from '../wire/api'
import type { Session } from '../wire/types'

class People {
  session = $state.raw<Session | null>(null)
  /** Whether nobody is signed in, though somebody has to be. */
  get needed(): boolean {
    return this.session !== null && this.session.needed && this.session.name === null
  }
  async load(): Promise<void> {
    this.session = await api.session()
  }
  async signIn(name: string, password: string): Promise<void> {
    this.session = await api.signIn(name, password)
  }
  async welcome(secret: string, name: string, password: string): Promise<void> {
    this.session = await api.welcome(secret, name, password)
  }
  async signOut(): Promise<void> {
    await api.signOut()
    await this.load()
  }
}

export const people = new People()
refusedBy.strangers = () => {
  if (people.session?.name !== null) people.session = { needed: true, name: null }
}
