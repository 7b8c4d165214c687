#!/bin/sh
# Fails where style settings do not agree; writes reports for people and machines.
set -eu
treaty check --output sarif=treaty.sarif --output junit=treaty.xml --output markdown=treaty.md
