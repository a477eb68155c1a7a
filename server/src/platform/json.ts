/** A reply that the database has put into JSON: it goes out as it is. `T` is what it says. */
export class Json<T> {
  declare readonly says: T;

  constructor(readonly text: string) {}

  read(): T {
    return JSON.parse(this.text) as T;
  }
}
