// The box on an ordinary machine, with stand-ins for its pins: g++ -std=c++17 -O1 box_on_host.cpp -o box && ./box 127.0.0.1 4180 "Box 1" 30
#include "box.hpp"
#include <arpa/inet.h>
#include <chrono>
#include <cstdlib>
#include <string>
#include <sys/socket.h>
#include <sys/time.h>
#include <thread>
#include <unistd.h>

/// A bike at 20 km/h: what the sensors of a board would say.
struct HostPins {
  std::chrono::steady_clock::time_point begun = std::chrono::steady_clock::now();
  unsigned long millis() const {
    return static_cast<unsigned long>(
        std::chrono::duration_cast<std::chrono::milliseconds>(std::chrono::steady_clock::now() - begun).count());
  }
  double seconds() const { return millis() / 1000.0; }
  float voltage() const { return static_cast<float>(50 - seconds() / 900); }
  float current() const { return static_cast<float>(6 + std::sin(seconds() / 7)); }
  unsigned long wheelPulses() const { return static_cast<unsigned long>(20 / 3.6 * seconds() / 2.1); }
  // Its sensor comes off for a while.
  float motorTemperature() const { return seconds() > 2 && seconds() < 3 ? NAN : static_cast<float>(30 + seconds() / 60); }
};

/// Plain HTTP over a socket, as a board's network library does it.
struct HostLink {
  const char *address;
  int port;
  bool post(const char *body, size_t length, char *answer, size_t room) const {
    const int line = socket(AF_INET, SOCK_STREAM, 0);
    if (line < 0) return false;
    const timeval patience = {10, 0};
    setsockopt(line, SOL_SOCKET, SO_RCVTIMEO, &patience, sizeof patience);
    sockaddr_in to = {};
    to.sin_family = AF_INET;
    to.sin_port = htons(static_cast<uint16_t>(port));
    bool isDone = inet_pton(AF_INET, address, &to.sin_addr) == 1 &&
                  connect(line, reinterpret_cast<sockaddr *>(&to), sizeof to) == 0;
    if (isDone) {
      const std::string request = "POST /api/logger/lines HTTP/1.1\r\nHost: " + std::string(address) + ":" +
                                  std::to_string(port) +
                                  "\r\nContent-Type: application/x-ndjson\r\nConnection: close\r\nContent-Length: " +
                                  std::to_string(length) + "\r\n\r\n" + std::string(body, length);
      isDone = send(line, request.data(), request.size(), MSG_NOSIGNAL) == static_cast<ssize_t>(request.size());
    }
    std::string heard;
    char piece[1024];
    for (ssize_t got; isDone && (got = recv(line, piece, sizeof piece, 0)) > 0;) heard.append(piece, static_cast<size_t>(got));
    close(line);
    snprintf(answer, room, "%s", heard.substr(0, room - 1).c_str());
    // A head alone is no answer: the line may have broken behind it.
    return isDone && heard.rfind("HTTP/1.1 200", 0) == 0 && heard.find("\"next\"") != std::string::npos;
  }
};

int main(int count, char **given) {
  if (count < 5) {
    fprintf(stderr, "Usage: %s ADDRESS PORT LOGGER SECONDS [SECRET]\n", given[0]);
    return 2;
  }
  HostPins pins;
  HostLink link = {given[1], atoi(given[2])};
  const std::string session = "box-" + std::to_string(getpid());
  BoxSettings settings;
  settings.logger = given[3];
  settings.session = session.c_str();
  settings.secret = count > 5 ? given[5] : nullptr;
  static Box<HostPins, HostLink> box(pins, link, settings);
  while (pins.seconds() < atof(given[4])) {
    box.tick();
    std::this_thread::sleep_for(std::chrono::milliseconds(5));
  }
  for (int k = 0; !box.finish() && k < 60; k++) std::this_thread::sleep_for(std::chrono::seconds(1));
  printf("{\"session\":\"%s\",\"lines\":%lu,\"lost\":%lu}\n", session.c_str(), box.made(), box.lost());
}
