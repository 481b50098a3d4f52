"""Work beside the window: what is asked, for which job and target, by which policy, on which executor. Knows no Qt."""

from yattle.tasks.board import Board, Busy, Ticket
from yattle.tasks.request import Answer, Hand, On, Policy, Request, Target

__all__ = ["Answer", "Board", "Busy", "Hand", "On", "Policy", "Request", "Target", "Ticket"]
