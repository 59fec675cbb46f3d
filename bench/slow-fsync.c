// Makes every fsync take two milliseconds longer, as on a disk of one's own: where this is measured it takes 0.06.
#define _GNU_SOURCE
#include <dlfcn.h>
#include <time.h>

static void wait(void) {
  struct timespec time = {0, 2000000};
  nanosleep(&time, 0);
}

int fsync(int file) {
  wait();
  return ((int (*)(int))dlsym(RTLD_NEXT, "fsync"))(file);
}

int fdatasync(int file) {
  wait();
  return ((int (*)(int))dlsym(RTLD_NEXT, "fdatasync"))(file);
}
