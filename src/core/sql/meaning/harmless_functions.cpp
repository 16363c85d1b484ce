#include "core/sql/meaning/harmless_functions.h"

#include <algorithm>
#include <array>
#include <span>

namespace pantry::sql {
namespace {

// One word a line would hide what is there.
// clang-format off
constexpr auto kSqliteFunctions = std::to_array<std::string_view>({
    "->", "->>", "abs", "acos", "acosh", "asin", "asinh", "atan", "atan2", "atanh", "avg", "bm25", "cast",
    "ceil", "ceiling", "changes", "char", "coalesce", "concat", "concat_ws", "cos", "cosh", "count",
    "cume_dist", "date", "datetime", "degrees", "dense_rank", "exp", "first_value", "floor", "format",
    "generate_series", "glob", "group_concat", "hex", "highlight", "ifnull", "iif", "instr", "json",
    "json_array", "json_array_length", "json_each", "json_error_position", "json_extract", "json_group_array",
    "json_group_object", "json_insert", "json_object", "json_patch", "json_quote", "json_remove",
    "json_replace", "json_set", "json_tree", "json_type", "json_valid", "jsonb", "jsonb_array", "jsonb_extract",
    "jsonb_group_array", "jsonb_group_object", "jsonb_insert", "jsonb_object", "jsonb_patch", "jsonb_remove",
    "jsonb_replace", "jsonb_set", "julianday", "lag", "last_insert_rowid", "last_value", "lead", "length",
    "like", "likelihood", "likely", "ln", "log", "log10", "log2", "lower", "ltrim", "match", "matchinfo", "max",
    "median", "min", "mod", "nth_value", "ntile", "nullif", "octet_length", "offsets", "percent_rank",
    "percentile", "percentile_cont", "percentile_disc", "pi", "pow", "power", "printf", "quote", "radians",
    "raise", "random", "randomblob", "rank", "regexp", "replace", "round", "row_number", "rtrim", "rtreecheck",
    "rtreedepth", "rtreenode", "sign", "sin", "sinh", "snippet", "soundex", "sqlite_compileoption_get",
    "sqlite_compileoption_used", "sqlite_offset", "sqlite_source_id", "sqlite_version", "sqrt", "strftime",
    "string_agg", "substr", "substring", "subtype", "sum", "tan", "tanh", "time", "timediff", "total",
    "total_changes", "trim", "trunc", "typeof", "unhex", "unicode", "unistr", "unistr_quote", "unixepoch",
    "unlikely", "upper", "zeroblob"});

constexpr auto kMySqlFunctions = std::to_array<std::string_view>({
    "abs", "acos", "adddate", "addtime", "aes_decrypt", "aes_encrypt", "any_value", "area", "asbinary", "ascii",
    "asin", "astext", "aswkb", "aswkt", "atan", "atan2", "avg", "benchmark", "bin", "bin_to_uuid", "bit_and",
    "bit_count", "bit_length", "bit_or", "bit_xor", "boundary", "buffer", "cast", "ceil", "ceiling", "centroid",
    "char", "char_length", "character_length", "charset", "chr", "coalesce", "coercibility", "collation",
    "column_check", "column_create", "column_delete", "column_exists", "column_get", "column_json",
    "column_list", "compress", "concat", "concat_operator_oracle", "concat_ws", "connection_id", "contains",
    "conv", "convert", "convert_tz", "convexhull", "cos", "cot", "count", "crc32", "crc32c", "crosses",
    "cume_dist", "curdate", "current_date", "current_role", "current_time", "current_timestamp", "current_user",
    "curtime", "database", "date", "date_add", "date_format", "date_sub", "datediff", "day", "dayname",
    "dayofmonth", "dayofweek", "dayofyear", "decode", "decode_histogram", "decode_oracle", "default", "degrees",
    "dense_rank", "des_decrypt", "des_encrypt", "dimension", "disjoint", "distance", "elt", "encode", "encrypt",
    "endpoint", "envelope", "equals", "exp", "export_set", "exteriorring", "extract", "extractvalue", "field",
    "find_in_set", "first_value", "floor", "format", "format_bytes", "format_pico_time", "found_rows",
    "from_base64", "from_days", "from_unixtime", "geomcollfromtext", "geomcollfromwkb", "geometrycollection",
    "geometryfromtext", "geometryn", "geometrytype", "geomfromtext", "geomfromwkb", "get_format", "glength",
    "greatest", "group_concat", "grouping", "hex", "hour", "if", "ifnull", "inet6_aton", "inet6_ntoa",
    "inet_aton", "inet_ntoa", "insert", "instr", "interiorringn", "intersects", "interval", "is_free_lock",
    "is_ipv4", "is_ipv4_compat", "is_ipv4_mapped", "is_ipv6", "is_used_lock", "is_uuid", "isclosed", "isempty",
    "isnull", "isring", "issimple", "json_array", "json_array_append", "json_array_insert", "json_arrayagg",
    "json_compact", "json_contains", "json_contains_path", "json_depth", "json_detailed", "json_equals",
    "json_exists", "json_extract", "json_insert", "json_keys", "json_length", "json_loose", "json_merge",
    "json_merge_patch", "json_merge_preserve", "json_normalize", "json_object", "json_objectagg",
    "json_overlaps", "json_pretty", "json_query", "json_quote", "json_remove", "json_replace",
    "json_schema_valid", "json_search", "json_set", "json_storage_free", "json_storage_size", "json_table",
    "json_type", "json_unquote", "json_valid", "json_value", "kdf", "lag", "last_day", "last_insert_id",
    "last_value", "lastval", "lcase", "lead", "least", "left", "length", "lengthb", "linefromtext",
    "linefromwkb", "linestring", "linestringfromtext", "ln", "localtime", "localtimestamp", "locate", "log",
    "log10", "log2", "lower", "lpad", "ltrim", "make_set", "makedate", "maketime", "match", "max",
    "mbrcontains", "mbrequal", "mbrintersects", "mbrwithin", "md5", "median", "microsecond", "mid", "min",
    "minute", "mod", "month", "monthname", "mlinefromtext", "mpointfromtext", "mpolyfromtext",
    "multilinestring", "multipoint", "multipolygon", "name_const", "natural_sort_key", "now", "nth_value",
    "ntile", "nullif", "numgeometries", "numinteriorrings", "numpoints", "nvl", "nvl2", "oct", "octet_length",
    "old_password", "ord", "overlaps", "password", "percent_rank", "percentile_cont", "percentile_disc",
    "period_add", "period_diff", "pi", "point", "pointfromtext", "pointn", "pointonsurface", "polyfromtext",
    "polygon", "position", "pow", "power", "quarter", "quote", "radians", "rand", "random_bytes", "rank",
    "regexp_instr", "regexp_like", "regexp_replace", "regexp_substr", "repeat", "replace", "reverse", "right",
    "roles_graphml", "round", "row", "row_count", "row_number", "rownum", "rpad", "rtrim", "schema",
    "sec_to_time", "second", "session_user", "sformat", "sha", "sha1", "sha2", "sign", "sin", "sleep",
    "soundex", "space", "sqrt", "srid", "st_area", "st_asbinary", "st_asgeojson", "st_astext", "st_aswkb",
    "st_aswkt", "st_boundary", "st_buffer", "st_centroid", "st_contains", "st_convexhull", "st_crosses",
    "st_dimension", "st_disjoint", "st_distance", "st_distance_sphere", "st_endpoint", "st_envelope",
    "st_equals", "st_exteriorring", "st_geomcollfromtext", "st_geometryfromtext", "st_geometryn",
    "st_geometrytype", "st_geomfromgeojson", "st_geomfromtext", "st_geomfromwkb", "st_interiorringn",
    "st_intersection", "st_intersects", "st_isclosed", "st_isempty", "st_isring", "st_issimple", "st_isvalid",
    "st_latitude", "st_length", "st_linefromtext", "st_longitude", "st_numgeometries", "st_numinteriorrings",
    "st_numpoints", "st_overlaps", "st_pointfromtext", "st_pointn", "st_pointonsurface", "st_polyfromtext",
    "st_relate", "st_srid", "st_startpoint", "st_symdifference", "st_touches", "st_union", "st_within", "st_x",
    "st_y", "startpoint", "statement_digest", "statement_digest_text", "std", "stddev", "stddev_pop",
    "stddev_samp", "str_to_date", "strcmp", "subdate", "substr", "substring", "substring_index", "subtime",
    "sum", "sys_guid", "sysdate", "system_user", "tan", "time", "time_format", "time_to_sec", "timediff",
    "timestamp", "timestampadd", "timestampdiff", "to_base64", "to_char", "to_days", "to_number", "to_seconds",
    "touches", "trim", "trim_oracle", "truncate", "ucase", "uncompress", "uncompressed_length", "unhex",
    "unix_timestamp", "updatexml", "upper", "user", "utc_date", "utc_time", "utc_timestamp", "uuid",
    "uuid_to_bin", "uuid_v4", "uuid_v7", "validate_password_strength", "value", "values", "var_pop", "var_samp",
    "variance", "version", "week", "weekday", "weekofyear", "weight_string", "within", "x", "y", "year",
    "yearweek"});

constexpr auto kPostgresVolatile = std::to_array<std::string_view>({
    "clock_timestamp", "current_query", "currval", "gen_random_bytes", "gen_random_uuid", "lastval", "lo_get",
    "loread", "pg_blocking_pids", "pg_collation_actual_version", "pg_control_checkpoint", "pg_control_init",
    "pg_control_recovery", "pg_control_system", "pg_current_logfile", "pg_current_wal_flush_lsn",
    "pg_current_wal_insert_lsn", "pg_current_wal_lsn", "pg_database_collation_actual_version",
    "pg_database_size", "pg_get_backend_memory_contexts", "pg_get_multixact_members",
    "pg_get_shmem_allocations", "pg_get_wal_replay_pause_state", "pg_get_wal_resource_managers",
    "pg_hba_file_rules", "pg_ident_file_mappings", "pg_indexes_size", "pg_is_in_recovery",
    "pg_is_wal_replay_paused", "pg_jit_available", "pg_last_committed_xact", "pg_last_wal_receive_lsn",
    "pg_last_wal_replay_lsn", "pg_last_xact_replay_timestamp", "pg_lock_status", "pg_ls_logdir", "pg_ls_tmpdir",
    "pg_ls_waldir", "pg_notification_queue_usage", "pg_partition_ancestors", "pg_partition_tree",
    "pg_prepared_xact", "pg_relation_size", "pg_safe_snapshot_blocking_pids", "pg_sequence_last_value",
    "pg_show_all_file_settings", "pg_show_replication_origin_status", "pg_sleep", "pg_sleep_for",
    "pg_sleep_until", "pg_stat_file", "pg_stat_get_recovery_prefetch", "pg_stat_get_xact_blocks_fetched",
    "pg_stat_get_xact_blocks_hit", "pg_stat_get_xact_function_calls", "pg_stat_get_xact_function_self_time",
    "pg_stat_get_xact_function_total_time", "pg_stat_get_xact_numscans", "pg_stat_get_xact_tuples_deleted",
    "pg_stat_get_xact_tuples_fetched", "pg_stat_get_xact_tuples_hot_updated",
    "pg_stat_get_xact_tuples_inserted", "pg_stat_get_xact_tuples_returned", "pg_stat_get_xact_tuples_updated",
    "pg_stat_have_stats", "pg_stat_statements", "pg_table_size", "pg_tablespace_size", "pg_total_relation_size",
    "pg_xact_commit_timestamp", "pg_xact_commit_timestamp_origin", "pg_xact_status", "random", "random_normal",
    "timeofday", "txid_status", "uuid_generate_v1", "uuid_generate_v1mc", "uuid_generate_v4"});

constexpr auto kAnsiFunctions = std::to_array<std::string_view>({
    "abs", "acos", "array_agg", "ascii", "asin", "atan", "avg", "cardinality", "cast", "ceil", "ceiling",
    "char", "char_length", "character_length", "coalesce", "concat", "convert", "corr", "cos", "count",
    "covar_pop", "covar_samp", "cume_dist", "curdate", "current_date", "current_time", "current_timestamp",
    "current_user", "curtime", "database", "date_part", "date_trunc", "datediff", "day", "dayname",
    "dayofmonth", "dayofweek", "dayofyear", "dense_rank", "exp", "extract", "first_value", "floor", "greatest",
    "hour", "ifnull", "instr", "isnull", "lag", "last_value", "lcase", "lead", "least", "left", "length",
    "listagg", "ln", "locate", "log", "log10", "lower", "ltrim", "max", "min", "minute", "mod", "month",
    "monthname", "now", "nth_value", "ntile", "nullif", "nvl", "octet_length", "overlay", "percent_rank",
    "percentile_cont", "percentile_disc", "pi", "position", "power", "quarter", "radians", "rand", "rank",
    "replace", "right", "round", "row_number", "rtrim", "second", "sign", "sin", "space", "sqrt", "stddev_pop",
    "stddev_samp", "substr", "substring", "sum", "tan", "timestampadd", "timestampdiff", "to_char", "to_date",
    "to_number", "translate", "trim", "truncate", "ucase", "upper", "user", "var_pop", "var_samp", "week",
    "year"});

/// Tell something, with a value or without: the value says about what.
constexpr auto kTellingPragmas = std::to_array<std::string_view>({
    "collation_list", "compile_options", "data_version", "database_list", "foreign_key_check",
    "foreign_key_list", "freelist_count", "function_list", "index_info", "index_list", "index_xinfo",
    "integrity_check", "module_list", "page_count", "pragma_list", "quick_check", "stats", "table_info",
    "table_list", "table_xinfo"});

/// Tell a setting as long as no value is given.
constexpr auto kSettingPragmas = std::to_array<std::string_view>({
    "analysis_limit", "application_id", "auto_vacuum", "automatic_index", "busy_timeout", "cache_size",
    "cache_spill", "cell_size_check", "checkpoint_fullfsync", "defer_foreign_keys", "encoding", "foreign_keys",
    "fullfsync", "hard_heap_limit", "ignore_check_constraints", "journal_mode", "journal_size_limit",
    "legacy_alter_table", "locking_mode", "max_page_count", "mmap_size", "page_size", "query_only",
    "read_uncommitted", "recursive_triggers", "reverse_unordered_selects", "schema_version", "secure_delete",
    "soft_heap_limit", "synchronous", "temp_store", "threads", "trusted_schema", "user_version",
    "wal_autocheckpoint"});

/// Settings of this session's own comfort.
constexpr auto kSettablePragmas =
    std::to_array<std::string_view>({
    "analysis_limit", "automatic_index", "busy_timeout", "cache_size", "cache_spill", "case_sensitive_like",
    "reverse_unordered_selects", "threads"});

constexpr auto kPostgresSettings = std::to_array<std::string_view>({
    "application_name", "bytea_output", "client_min_messages", "constraint_exclusion", "cpu_index_tuple_cost",
    "cpu_operator_cost", "cpu_tuple_cost", "cursor_tuple_fraction", "datestyle", "default_statistics_target",
    "default_transaction_deferrable", "default_transaction_isolation", "effective_cache_size",
    "effective_io_concurrency", "enable_async_append", "enable_bitmapscan", "enable_gathermerge",
    "enable_hashagg", "enable_hashjoin", "enable_incremental_sort", "enable_indexonlyscan", "enable_indexscan",
    "enable_material", "enable_memoize", "enable_mergejoin", "enable_nestloop", "enable_parallel_append",
    "enable_parallel_hash", "enable_partition_pruning", "enable_partitionwise_aggregate",
    "enable_partitionwise_join", "enable_seqscan", "enable_sort", "enable_tidscan", "extra_float_digits",
    "from_collapse_limit", "geqo", "geqo_threshold", "gin_fuzzy_search_limit", "hash_mem_multiplier",
    "idle_in_transaction_session_timeout", "idle_session_timeout", "intervalstyle", "jit", "jit_above_cost",
    "jit_inline_above_cost", "jit_optimize_above_cost", "join_collapse_limit", "lc_messages", "lc_monetary",
    "lc_numeric", "lc_time", "lock_timeout", "maintenance_work_mem", "max_parallel_workers",
    "max_parallel_workers_per_gather", "min_parallel_index_scan_size", "min_parallel_table_scan_size",
    "parallel_leader_participation", "parallel_setup_cost", "parallel_tuple_cost", "plan_cache_mode",
    "random_page_cost", "search_path", "seq_page_cost", "statement_timeout", "temp_buffers", "timezone",
    "transaction_deferrable", "transaction_isolation", "transaction_timeout", "work_mem", "xmlbinary",
    "xmloption"});

constexpr auto kMySqlSettings = std::to_array<std::string_view>({
    "big_tables", "default_week_format", "div_precision_increment", "eq_range_index_dive_limit",
    "expensive_subquery_limit", "group_concat_max_len", "histogram_size", "histogram_type",
    "in_predicate_conversion_threshold", "innodb_lock_wait_timeout", "interactive_timeout", "join_buffer_size",
    "join_buffer_space_limit", "join_cache_level", "lc_messages", "lc_time_names", "lock_wait_timeout",
    "long_query_time", "max_execution_time", "max_heap_table_size", "max_join_size", "max_length_for_sort_data",
    "max_recursive_iterations", "max_seeks_for_key", "max_sort_length", "max_statement_time", "mrr_buffer_size",
    "net_read_timeout", "net_write_timeout", "optimizer_prune_level", "optimizer_search_depth",
    "optimizer_switch", "optimizer_trace", "optimizer_trace_max_mem_size",
    "optimizer_use_condition_selectivity", "profiling", "profiling_history_size", "query_cache_type",
    "rand_seed1", "rand_seed2", "read_buffer_size", "read_rnd_buffer_size", "rowid_merge_buff_size",
    "sort_buffer_size", "sql_big_selects", "sql_select_limit", "time_zone", "timestamp",
    "tmp_memory_table_size", "tmp_table_size", "transaction_isolation", "tx_isolation", "use_stat_tables",
    "wait_timeout"});

// clang-format on

bool isIn(std::span<const std::string_view> table, std::string_view name) {
    return std::ranges::find(table, name) != table.end();
}

}  // namespace

bool isHarmlessFunction(std::string_view name, Dialect dialect) {
    switch (dialect) {
        case Dialect::Postgres: return isIn(kPostgresVolatile, name);
        case Dialect::MySql: return isIn(kMySqlFunctions, name);
        case Dialect::Sqlite: return isIn(kSqliteFunctions, name);
        case Dialect::Ansi: break;
    }
    return isIn(kAnsiFunctions, name);
}

bool isHarmlessPragma(std::string_view name, bool hasValue) {
    if (isIn(kTellingPragmas, name)) return true;
    return isIn(hasValue ? std::span<const std::string_view>(kSettablePragmas) : kSettingPragmas, name);
}

bool isHarmlessSetting(std::string_view name, Dialect dialect) {
    switch (dialect) {
        case Dialect::Postgres: return isIn(kPostgresSettings, name);
        case Dialect::MySql: return isIn(kMySqlSettings, name);
        default: return false;
    }
}

}  // namespace pantry::sql
