from yattle.cli import run

if __name__ == "__main__":  # a process that works beside the window reads this file too
    run()
