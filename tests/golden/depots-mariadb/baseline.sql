migrations are written for PostgreSQL so far, and this schema is of MySQL or MariaDB
