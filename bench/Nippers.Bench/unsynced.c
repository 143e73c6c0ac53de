/* Keeps, of each file of a database, what it was when it was last synced: what a machine without power would be left with.
   Loaded before the server by `torture --unsynced`. A copy takes the place of the one before it whole, or not at all. */
#define _GNU_SOURCE
#include <dlfcn.h>
#include <fcntl.h>
#include <limits.h>
#include <stdio.h>
#include <stdlib.h>
#include <string.h>
#include <sys/stat.h>
#include <unistd.h>

static void keep(int fd)
{
    const char *folder = getenv("NIPPERS_SYNCED");
    char link[64], path[PATH_MAX], part[PATH_MAX], whole[PATH_MAX];
    struct stat is;
    if (!folder)
        return;
    snprintf(link, sizeof link, "/proc/self/fd/%d", fd);
    ssize_t length = readlink(link, path, sizeof path - 1);
    if (length <= 0)
        return;
    path[length] = 0;
    const char *name = strrchr(path, '/');
    if (!name || strncmp(++name, "fleet.db", 8) || fstat(fd, &is))
        return;
    snprintf(part, sizeof part, "%s/part-%d", folder, (int)gettid());
    snprintf(whole, sizeof whole, "%s/%s", folder, name);
    int to = open(part, O_WRONLY | O_CREAT | O_TRUNC, 0600);
    if (to < 0)
        return;
    loff_t from = 0;
    while (from < is.st_size && copy_file_range(fd, &from, to, NULL, is.st_size - from, 0) > 0)
        ;
    close(to);
    if (from >= is.st_size)
        rename(part, whole);
}

#define SYNC(name)                                                  \
    int name(int fd)                                                \
    {                                                               \
        static int (*real)(int);                                    \
        if (!real)                                                  \
            real = (int (*)(int))dlsym(RTLD_NEXT, #name);           \
        int answer = real(fd);                                      \
        if (answer == 0)                                            \
            keep(fd);                                               \
        return answer;                                              \
    }

SYNC(fsync)
SYNC(fdatasync)
