#pragma once

// The engine's own types, by name alone: who works with them includes mysql.h.
struct st_mysql;
struct st_mysql_res;
struct st_mysql_field;
typedef struct st_mysql MYSQL;
typedef struct st_mysql_res MYSQL_RES;
typedef struct st_mysql_field MYSQL_FIELD;
typedef char** MYSQL_ROW;
