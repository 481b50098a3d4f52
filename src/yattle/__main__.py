from yattle.cli import main

raise SystemExit(main())
