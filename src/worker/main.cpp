// SPDX-License-Identifier: GPL-3.0-or-later
//
// hrack-worker: the process in which strangers' code runs. Not for people: it expects its control
// socket and shared block at the file numbers of hosting/wire.h.
#include "hosting/inside/server.h"
#include "hosting/wire.h"

#include <cstdio>
#include <fcntl.h>

int main()
{
    if (fcntl(hr::hosting::worker_control_fd, F_GETFD) < 0) {
        std::fputs("hrack-worker is started by honest-rack and hrack, not by hand.\n", stderr);
        return 1;
    }
    return hr::hosting::inside::serve();
}
