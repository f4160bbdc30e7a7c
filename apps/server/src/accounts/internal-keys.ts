import { Injectable } from '@nestjs/common';
import type { Who } from './account.repository.js';
import { makeSecret } from './secrets.js';

const NOBODY = '00000000-0000-7000-8000-000000000000';

/** Keys of programs that this server starts itself. They live in memory and end with it. */
@Injectable()
export class InternalKeys {
  private readonly keys = new Map<string, Who>();

  make(name: string): string {
    const secret = makeSecret('own');
    this.keys.set(secret, { id: NOBODY, name, role: 'tester' });
    return secret;
  }

  find(secret: string): Who | undefined {
    return this.keys.get(secret);
  }

  end(secret: string): void {
    this.keys.delete(secret);
  }
}
