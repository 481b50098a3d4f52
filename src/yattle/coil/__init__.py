"""Coil, sheets and offcuts: pieces laid out on them, cuts a shear can make, and how good that is."""

from yattle.coil.answer import NestAnswer
from yattle.coil.check import faults
from yattle.coil.job import NestJob, NestRules, Part, Stock
from yattle.coil.solve import first_answer, nest, plain_answer

__all__ = ["NestAnswer", "NestJob", "NestRules", "Part", "Stock", "faults", "first_answer", "nest",
           "plain_answer"]
