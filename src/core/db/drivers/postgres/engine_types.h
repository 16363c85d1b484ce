#pragma once

// The engine's own types, by name alone: who works with them includes libpq-fe.h.
struct pg_conn;
struct pg_result;
struct pg_cancel;
typedef struct pg_conn PGconn;
typedef struct pg_result PGresult;
typedef struct pg_cancel PGcancel;
typedef unsigned int Oid;
