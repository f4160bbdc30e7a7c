import { Controller, Get, HttpCode, Post, Res } from '@nestjs/common';
import type { Response } from 'express';
import type { z } from 'zod';
import { reportIssueSchema, reportSpecSchema, type Report, type ReportSpec } from '@ebrix/contract';
import { Id, ValidBody } from '../common/params.js';
import { ReportService } from './report.service.js';

@Controller('reports')
export class ReportController {
  constructor(private readonly reports: ReportService) {}

  @Get()
  list(): Promise<Report[]> {
    return this.reports.list();
  }

  @Post()
  issue(@ValidBody(reportIssueSchema) body: z.output<typeof reportIssueSchema>): Promise<Report> {
    return this.reports.issue(body);
  }

  @Post('preview')
  @HttpCode(200)
  async preview(@ValidBody(reportSpecSchema) body: ReportSpec): Promise<{ html: string }> {
    return { html: await this.reports.preview(body) };
  }

  /** The file as it was issued; it opens without network and scripts. */
  @Get(':id/html')
  async html(@Id() id: string, @Res() response: Response): Promise<void> {
    const html = await this.reports.htmlOf(id);
    response
      .setHeader('Content-Type', 'text/html; charset=utf-8')
      .setHeader(
        'Content-Security-Policy',
        "default-src 'none'; style-src 'unsafe-inline'; img-src data:; sandbox allow-modals allow-popups",
      )
      .send(html);
  }
}
