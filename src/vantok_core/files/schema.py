"""Print the job file's JSON schema: `python3 -m vantok_core.files.schema`."""

import json

from vantok_core.files.job_file import job_schema

if __name__ == "__main__":
    print(json.dumps(job_schema(), indent=2))
