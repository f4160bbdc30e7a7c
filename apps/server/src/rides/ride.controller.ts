import { Controller, Get, HttpCode, Post, Put, Sse, type MessageEvent } from '@nestjs/common';
import { from, mergeMap, type Observable } from 'rxjs';
import { z } from 'zod';
import {
  marksInputSchema,
  newRideSchema,
  rideChangeSchema,
  rideStepSchema,
  simulateSchema,
  type NewRide,
  type Ride,
  type RideChange,
  type RideOverview,
  type RideStep,
} from '@ebrix/contract';
import { Id, ValidBody } from '../common/params.js';
import { LiveService } from './live.service.js';
import { RideOverviewService } from './ride-overview.service.js';
import { RideMarkService } from './ride-mark.service.js';
import { RideReader } from './ride-reader.service.js';
import { RideService } from './ride.service.js';
import { SimulatedRidesService } from './simulated-rides.service.js';

const undoSchema = z.strictObject({ undone: z.boolean().default(true) });

@Controller('rides')
export class RideController {
  constructor(
    private readonly rides: RideService,
    private readonly reader: RideReader,
    private readonly marks: RideMarkService,
    private readonly overviews: RideOverviewService,
    private readonly live: LiveService,
    private readonly simulated: SimulatedRidesService,
  ) {}

  @Get()
  overview(): Promise<RideOverview> {
    return this.overviews.overview();
  }

  @Post()
  begin(@ValidBody(newRideSchema) body: NewRide): Promise<Ride> {
    return this.rides.begin(body);
  }

  @Get(':id')
  get(@Id() id: string): Promise<Ride> {
    return this.reader.get(id);
  }

  /** The ride whenever it changes, and its newest readings a few times a second. */
  @Sse(':id/events')
  events(@Id() id: string): Observable<MessageEvent> {
    return from(this.reader.get(id)).pipe(mergeMap(() => this.live.events(id)));
  }

  @Put(':id')
  change(@Id() id: string, @ValidBody(rideChangeSchema) body: RideChange): Promise<Ride> {
    return this.rides.change(id, body);
  }

  @Post(':id/step')
  @HttpCode(200)
  step(@Id() id: string, @ValidBody(rideStepSchema) body: RideStep): Promise<Ride> {
    return this.rides.step(id, body);
  }

  @Post(':id/marks')
  @HttpCode(200)
  mark(@Id() id: string, @ValidBody(marksInputSchema) body: z.output<typeof marksInputSchema>): Promise<Ride> {
    return this.marks.addMarks(id, body);
  }

  @Post(':id/marks/:mark/undo')
  @HttpCode(200)
  undo(
    @Id() id: string,
    @Id('mark') mark: string,
    @ValidBody(undoSchema) { undone }: z.output<typeof undoSchema>,
  ): Promise<Ride> {
    return this.marks.undoMark(id, mark, undone);
  }

  @Post(':id/simulate')
  @HttpCode(202)
  simulate(@Id() id: string, @ValidBody(simulateSchema) { pace }: z.output<typeof simulateSchema>): Promise<Ride> {
    return this.simulated.start(id, pace);
  }
}
