import { Injectable } from '@nestjs/common';

/** The server's clock, so that tests can set it. */
@Injectable()
export class Clock {
  now(): Date {
    return new Date();
  }
}
