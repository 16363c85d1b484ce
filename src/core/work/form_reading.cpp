#include "core/work/form_reading.h"

#include <utility>

namespace pantry::work {
namespace {

constexpr std::size_t kMaxChoices = 2000;

std::string textOf(const data::Cell& cell) { return cell.isNull() ? std::string() : data::toText(cell); }

}  // namespace

void FormReading::choices(const std::string& query, sql::Dialect dialect,
                          std::function<void(Result<std::vector<std::string>>)> told) const {
    catalogs.readRows(connection, database, sql::Statement(query, dialect), kMaxChoices,
                      [told = std::move(told)](const Result<data::ResultSetPtr>& rows) {
                          if (!rows) return told(rows.error());
                          std::vector<std::string> choices;
                          for (std::size_t i = 0; i < (*rows)->rowCount(); ++i) {
                              choices.push_back(textOf((*rows)->cell(i, 0)));
                          }
                          told(std::move(choices));
                      });
}

void FormReading::current(const std::string& query, sql::Dialect dialect,
                          std::function<void(Result<sql::FieldValues>)> told) const {
    catalogs.readRows(connection, database, sql::Statement(query, dialect), 1,
                      [told = std::move(told)](const Result<data::ResultSetPtr>& rows) {
                          if (!rows) return told(rows.error());
                          if ((*rows)->rowCount() == 0) {
                              return told(Error{.kind = ErrorKind::NotFound,
                                                .message = "It is not there, or you may not look at it."});
                          }
                          sql::FieldValues values;
                          for (std::size_t c = 0; c < (*rows)->columns().size(); ++c) {
                              values[(*rows)->columns()[c].name] = textOf((*rows)->cell(0, c));
                          }
                          told(std::move(values));
                      });
}

}  // namespace pantry::work
