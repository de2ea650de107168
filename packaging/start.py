"""Where the bundle starts."""

import sys

from cordwainer.__main__ import main

sys.exit(main())
