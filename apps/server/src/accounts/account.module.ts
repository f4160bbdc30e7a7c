import { Global, Module } from '@nestjs/common';
import { APP_GUARD, APP_INTERCEPTOR } from '@nestjs/core';
import { Clock } from '../common/clock.js';
import { AccessGuard } from './access.guard.js';
import { AccountController } from './account.controller.js';
import { AccountRepository } from './account.repository.js';
import { AccountService } from './account.service.js';
import { DeviceRepository } from './device.repository.js';
import { Door } from './door.js';
import { HistoryInterceptor } from './history.interceptor.js';
import { HistoryRepository } from './history.repository.js';
import { InternalKeys } from './internal-keys.js';
import { Sessions } from './sessions.js';
import { SignInLimits } from './sign-in-limits.js';

@Global()
@Module({
  controllers: [AccountController],
  providers: [
    AccountRepository,
    AccountService,
    Clock,
    DeviceRepository,
    Door,
    HistoryRepository,
    InternalKeys,
    Sessions,
    SignInLimits,
    { provide: APP_GUARD, useClass: AccessGuard },
    { provide: APP_INTERCEPTOR, useClass: HistoryInterceptor },
  ],
  exports: [Door, InternalKeys, Sessions],
})
export class AccountModule {}
