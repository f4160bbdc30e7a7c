import { Controller, Delete, Get, HttpCode, Post, Res } from '@nestjs/common';
import type { Response } from 'express';
import { packageOrderSchema, type PackageOrder, type PreparedPackage } from '@ebrix/contract';
import { Id, ValidBody } from '../common/params.js';
import { PreparedPackagesService } from './prepared-packages.service.js';

@Controller('packages')
export class PreparedPackagesController {
  constructor(private readonly packages: PreparedPackagesService) {}

  @Get()
  list(): PreparedPackage[] {
    return this.packages.list();
  }

  @Post()
  order(@ValidBody(packageOrderSchema) order: PackageOrder): Promise<PreparedPackage> {
    return this.packages.order(order);
  }

  /** A download that broke off goes on from where it was: ranges, and a mark by which the file is known to be the same. */
  @Get(':id/file')
  file(@Id() id: string, @Res() response: Response): void {
    response
      .setHeader('Content-Type', 'application/zip')
      .setHeader('Content-Disposition', 'attachment; filename="ebrix-data.zip"')
      // The folder of data may begin with a dot.
      .sendFile(this.packages.fileOf(id), { dotfiles: 'allow', cacheControl: false });
  }

  @Delete(':id')
  @HttpCode(204)
  drop(@Id() id: string): Promise<void> {
    return this.packages.drop(id);
  }
}
