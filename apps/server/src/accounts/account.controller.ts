import { readFile } from 'node:fs/promises';
import { Controller, Delete, Get, Header, HttpCode, Inject, Post, Put, Req, Res, StreamableFile } from '@nestjs/common';
import type { Response } from 'express';
import type { z } from 'zod';
import {
  accessKeyInputSchema,
  accountChangeSchema,
  accountInputSchema,
  codeSignInSchema,
  historyQuerySchema,
  passwordChangeSchema,
  signInSchema,
  type AccessKey,
  type AccessKeyInput,
  type Account,
  type AccountInput,
  type Device,
  type HistoryEntry,
  type NewAccessKey,
  type PasswordChange,
  type SessionState,
  type SignIn,
  type SignInCode,
} from '@ebrix/contract';
import { CONFIG, type Config } from '../common/config.js';
import { DomainError } from '../common/domain-error.js';
import { Id, ValidBody, ValidParam, ValidQuery } from '../common/params.js';
import type { Asked } from './access.guard.js';
import { AccountService } from './account.service.js';
import { DeviceRepository, deviceIdSchema } from './device.repository.js';
import { HistoryRepository } from './history.repository.js';

@Controller()
export class AccountController {
  constructor(
    private readonly accounts: AccountService,
    private readonly devices: DeviceRepository,
    private readonly history: HistoryRepository,
    @Inject(CONFIG) private readonly config: Config,
  ) {}

  @Get('session')
  session(@Req() request: Asked): Promise<SessionState> {
    return this.accounts.stateOf(request);
  }

  @Post('session')
  @HttpCode(200)
  signIn(@Req() request: Asked, @ValidBody(signInSchema) body: SignIn): Promise<SessionState> {
    return this.accounts.signIn(request, body);
  }

  @Post('session/code')
  @HttpCode(200)
  signInByCode(
    @Req() request: Asked,
    @ValidBody(codeSignInSchema) { code }: z.output<typeof codeSignInSchema>,
  ): Promise<SessionState> {
    return this.accounts.signInByCode(request, code);
  }

  @Delete('session')
  signOut(@Req() request: Asked, @Res({ passthrough: true }) response: Response): Promise<SessionState> {
    return this.accounts.signOut(request, response);
  }

  @Put('session/password')
  changePassword(@Req() request: Asked, @ValidBody(passwordChangeSchema) body: PasswordChange): Promise<SessionState> {
    return this.accounts.changePassword(request, request.who, body);
  }

  @Post('session/codes')
  makeCode(@Req() { who }: Asked): Promise<SignInCode> {
    return this.accounts.makeCode(who);
  }

  @Get('devices')
  listDevices(@Req() { who, sessionID }: Asked): Promise<Device[]> {
    return who ? this.devices.list(who.role === 'owner' ? undefined : who.id, sessionID) : Promise.resolve([]);
  }

  @Delete('devices/:id')
  @HttpCode(204)
  async signDeviceOut(@Req() { who }: Asked, @ValidParam('id', deviceIdSchema) id: string): Promise<void> {
    if (who) await this.devices.signOut(id, who.role === 'owner' ? undefined : who.id);
  }

  @Get('accounts')
  list(): Promise<Account[]> {
    return this.accounts.list();
  }

  @Post('accounts')
  add(@ValidBody(accountInputSchema) body: AccountInput): Promise<Account> {
    return this.accounts.add(body);
  }

  @Put('accounts/:id')
  change(
    @Id() id: string,
    @ValidBody(accountChangeSchema) body: z.output<typeof accountChangeSchema>,
  ): Promise<Account> {
    return this.accounts.change(id, body);
  }

  @Get('access-keys')
  keys(@Req() { who }: Asked): Promise<AccessKey[]> {
    return this.accounts.keys(who);
  }

  @Post('access-keys')
  addKey(@Req() { who }: Asked, @ValidBody(accessKeyInputSchema) body: AccessKeyInput): Promise<NewAccessKey> {
    return this.accounts.addKey(who, body);
  }

  @Delete('access-keys/:id')
  @HttpCode(204)
  deleteKey(@Req() { who }: Asked, @Id() id: string): Promise<void> {
    return this.accounts.deleteKey(who, id);
  }

  @Get('authority.crt')
  @Header('Content-Type', 'application/x-x509-ca-cert')
  async authority(): Promise<StreamableFile> {
    const { EBRIX_AUTHORITY: file } = this.config;
    if (file === undefined)
      throw new DomainError(
        'not-found',
        'This installation has no certificate authority of its own: it was not started with --share.',
      );
    return new StreamableFile(await readFile(file));
  }

  @Get('history')
  historyPage(
    @ValidQuery(historyQuerySchema) { object, before }: z.output<typeof historyQuerySchema>,
  ): Promise<HistoryEntry[]> {
    return this.history.page(object, before);
  }
}
