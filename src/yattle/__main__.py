from yattle.cli import run

run()
