"""`python -m jigger.cli`."""

import sys

from jigger.cli.commands import main

sys.exit(main())
