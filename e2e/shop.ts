/** Asks the desk of the test run for something of a shop. */
async function ask(method: 'POST' | 'PUT', path = ''): Promise<unknown> {
  const desk = process.env['CROSSPEEN_SHOPS'];
  if (desk === undefined)
    throw new Error(
      'CROSSPEEN_SHOPS is not set: run the journeys with ./crosspeen test browser, which gives each a shop of its own',
    );
  const response = await fetch(`${desk}/${path}`, { method });
  if (!response.ok) throw new Error(`no shop: ${await response.text()}`);
  return response.json();
}

/** A shop of a worker's own, which is made as it was in the beginning for every journey that writes. */
export class Shop {
  private constructor(private readonly port: number) {}

  static async open(): Promise<Shop> {
    return new Shop(((await ask('POST')) as { port: number }).port);
  }

  get address(): string {
    return `http://127.0.0.1:${this.port}`;
  }

  async renew(): Promise<void> {
    await ask('PUT', String(this.port));
  }
}
