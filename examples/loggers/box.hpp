// A logger for a microcontroller with a network: pack voltage and current, wheel pulses, motor temperature.
//
// It needs no heap and no threads: call tick() as often as you can. Lines lie in a ring until the server said that they are on disk;
// whatever breaks, they are sent again. The protocol is in docs/logger-protocol.md.
//
// What differs from board to board is handed in. Pins has
//   unsigned long millis();  float voltage();  float current();  unsigned long wheelPulses();  float motorTemperature();
// and Link has
//   bool post(const char *body, size_t length, char *answer, size_t room);
// which sends the body to /api/logger/lines with the content type application/x-ndjson, and is true for an answer of 200.
#pragma once
#include <cmath>
#include <cstddef>
#include <cstdio>
#include <cstring>

struct BoxSettings {
  const char *logger;               // its name on the bench
  const char *session;              // a new one after every start: the time, a random number
  const char *secret = nullptr;     // where it was given one
  float metresPerPulse = 2.1f;      // circumference of the wheel, by pulses a turn
  unsigned long sampleMs = 100;
  unsigned long sendMs = 1000;
};

template <class Pins, class Link, size_t RING = 1200> class Box {
public:
  Box(Pins &pins, Link &link, const BoxSettings &settings) : pins(pins), link(link), settings(settings) {}

  /// Samples and sends what is due.
  void tick() {
    const unsigned long now = pins.millis();
    if (!hasBegun) {
      hasBegun = true;
      begunMs = now;
      sampleDueMs = sendDueMs = now;
    }
    if (static_cast<long>(now - sampleDueMs) >= 0) {
      sample(now);
      sampleDueMs += settings.sampleMs;
    }
    if (static_cast<long>(now - sendDueMs) >= 0) sendDueMs = now + (send(false) ? settings.sendMs : backOff());
  }

  /// Once at the end: true when everything is on the server's disk and it knows that this was all.
  bool finish() {
    while (first < next)
      if (!send(false)) return false;
    return send(true);
  }

  unsigned long made() const { return next; }
  /// Lines that were overwritten before they could be sent.
  unsigned long lost() const { return lostLines; }

private:
  struct Sample {
    unsigned long ms;
    float speedKmh, distanceM, voltage, current, motorC;
  };

  void sample(unsigned long now) {
    const unsigned long pulses = pins.wheelPulses();
    // Pulses since the last sample that had one: between them the wheel is as slow as that says at most.
    if (pulses != lastPulses) {
      const float seconds = (now - lastPulseMs) / 1000.0f;
      if (hasPulse && seconds > 0) speedKmh = 3.6f * settings.metresPerPulse * (pulses - lastPulses) / seconds;
      lastPulses = pulses;
      lastPulseMs = now;
      hasPulse = true;
    } else if (hasPulse) {
      const float most = 3.6f * settings.metresPerPulse / ((now - lastPulseMs) / 1000.0f + 1e-3f);
      if (speedKmh > most) speedKmh = most < 1 ? 0 : most;
    }
    if (next - first == RING) {
      first++;
      lostLines++;
    }
    ring[next % RING] = {now - begunMs, speedKmh, settings.metresPerPulse * pulses, pins.voltage(), pins.current(),
                         pins.motorTemperature()};
    next++;
  }

  /// As many lines as one request holds; they are forgotten once they are answered for.
  bool send(bool isLast) {
    size_t length = writeHello();
    unsigned long until = first;
    while (until < next && length + LINE < sizeof body) length += writeLine(body + length, until++);
    if (isLast) length += static_cast<size_t>(snprintf(body + length, sizeof body - length, "{\"bye\":true}\n"));
    char answer[160] = "";
    if (!link.post(body, length, answer, sizeof answer)) return false;
    first = until;
    pauseMs = settings.sendMs;
    return true;
  }

  size_t writeHello() {
    const bool hasSecret = settings.secret != nullptr;
    return static_cast<size_t>(snprintf(
        body, sizeof body,
        "{\"hello\":{\"protocol\":1,\"logger\":\"%s\",\"session\":\"%s\"%s%s%s,"
        "\"channels\":[\"speed\",\"distance\",\"voltage\",\"current\",\"motorTemperature\"]}}\n",
        settings.logger, settings.session, hasSecret ? ",\"secret\":\"" : "", hasSecret ? settings.secret : "",
        hasSecret ? "\"" : ""));
  }

  size_t writeLine(char *to, unsigned long n) {
    const Sample &one = ring[n % RING];
    size_t length = static_cast<size_t>(snprintf(to, LINE, "[%lu,%lu.%03lu", n, one.ms / 1000, one.ms % 1000));
    const float values[] = {one.speedKmh, one.distanceM, one.voltage, one.current, one.motorC};
    // A sensor that says nothing is a missing value, never a nought.
    for (const float value : values)
      length += static_cast<size_t>(std::isfinite(value) ? snprintf(to + length, LINE - length, ",%.2f", static_cast<double>(value))
                                                         : snprintf(to + length, LINE - length, ",null"));
    return length + static_cast<size_t>(snprintf(to + length, LINE - length, "]\n"));
  }

  unsigned long backOff() {
    pauseMs = pauseMs * 2 < LONGEST_PAUSE_MS ? pauseMs * 2 : LONGEST_PAUSE_MS;
    return pauseMs;
  }

  static constexpr size_t LINE = 112;
  static constexpr unsigned long LONGEST_PAUSE_MS = 30000;
  Pins &pins;
  Link &link;
  const BoxSettings settings;
  Sample ring[RING] = {};
  char body[8192] = "";
  bool hasBegun = false, hasPulse = false;
  unsigned long begunMs = 0, sampleDueMs = 0, sendDueMs = 0, pauseMs = 1000;
  unsigned long first = 0, next = 0, lostLines = 0;
  unsigned long lastPulses = 0, lastPulseMs = 0;
  float speedKmh = 0;
};
