// Files, where R itself does not tell what they are or whether everything was written.
#include <Rcpp.h>

#include <cerrno>
#include <cstdio>
#include <cstring>
#include <filesystem>

// Is there something at this path, symbolic links followed, that is no plain file: a device, a pipe, a folder?
// [[Rcpp::export]]
bool file_is_special(std::string path) {
  std::error_code none;
  const std::filesystem::file_status found = std::filesystem::status(path, none);
  return std::filesystem::exists(found) && !std::filesystem::is_regular_file(found);
}

// Writes all the bytes, to the disk, or says why not: the system's words, or "" where all went well.
// [[Rcpp::export]]
std::string file_write(std::string path, Rcpp::RawVector bytes, bool append = false) {
  errno = 0;
  std::FILE* const file = std::fopen(path.c_str(), append ? "ab" : "wb");
  if (file == nullptr) return std::strerror(errno);
  const size_t size = static_cast<size_t>(bytes.size());
  bool whole = std::fwrite(bytes.begin(), 1, size, file) == size;
  whole = std::fflush(file) == 0 && whole;
  const int why = errno;
  whole = std::fclose(file) == 0 && whole;
  if (whole) return "";
  return std::strerror(why != 0 ? why : errno != 0 ? errno : EIO);
}

// Cuts a file back to its first bytes.
// [[Rcpp::export]]
bool file_cut(std::string path, double size) {
  std::error_code failed;
  std::filesystem::resize_file(path, static_cast<std::uintmax_t>(size), failed);
  return !failed;
}
