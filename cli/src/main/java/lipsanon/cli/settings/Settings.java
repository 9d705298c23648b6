package lipsanon.cli.settings;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import lipsanon.cli.UsageException;

/**
 * The settings that hold: of an option on the command line, of the environment, of the project's
 * {@code lipsanon.yaml} (in the working folder or the nearest one above it, up to the root of the
 * repository), of the user's {@code config.yaml}, in this order. One exception: what hides contents
 * holds wherever it is set, short of the command line itself, so that a project cannot lift it.
 */
public final class Settings {
  /** The name of a project's file. */
  public static final String PROJECT_FILE = "lipsanon.yaml";

  private static final String USER_FILE = "config.yaml";
  private static final String HIDE = "hide-contents";
  private static final int HIGHEST = 64;

  private final Map<String, Value> values = new LinkedHashMap<>();
  private final Path userFile;
  private final Path projectFile;

  /**
   * A setting that holds.
   *
   * @param value as text
   * @param origin where it was set, in words
   */
  public record Value(String value, String origin) {}

  private Settings(Path userFile, Path projectFile) {
    this.userFile = userFile;
    this.projectFile = projectFile;
  }

  /**
   * Reads them.
   *
   * @throws UsageException if a file or variable says what cannot be understood
   */
  public static Settings load(Map<String, String> environment, Path workingFolder) {
    Path user = userFolder(environment).resolve(USER_FILE);
    Settings settings = new Settings(user, project(workingFolder));
    if (Files.isRegularFile(user)) {
      settings.take(SettingsFile.read(user), user.toString(), true);
    }
    if (settings.projectFile != null) {
      settings.take(
          SettingsFile.read(settings.projectFile), settings.projectFile.toString(), false);
    }
    for (Setting setting : Setting.ALL) {
      String value = environment.get(setting.variable());
      if (value != null && !value.isEmpty()) {
        settings.put(setting, value, "the variable " + setting.variable());
      }
    }
    return settings;
  }

  /** The user's folder of configuration for this program. */
  public static Path userFolder(Map<String, String> environment) {
    String base = environment.getOrDefault("XDG_CONFIG_HOME", "");
    Path root =
        base.isEmpty() ? Path.of(System.getProperty("user.home"), ".config") : Path.of(base);
    return root.resolve("lipsanon");
  }

  private static Path project(Path workingFolder) {
    Path folder = workingFolder.toAbsolutePath().normalize();
    for (int i = 0; i < HIGHEST && folder != null; i++) {
      Path file = folder.resolve(PROJECT_FILE);
      if (Files.isRegularFile(file)) {
        return file;
      }
      if (Files.exists(folder.resolve(".git"))) {
        return null;
      }
      folder = folder.getParent();
    }
    return null;
  }

  private void take(Map<String, String> file, String where, boolean users) {
    file.forEach(
        (name, value) -> {
          Setting setting = find(name);
          if (setting == null) {
            List<String> known = Setting.ALL.stream().map(Setting::name).toList();
            throw new UsageException(
                where
                    + ": there is no setting "
                    + name
                    + "; there are: "
                    + String.join(", ", known));
          }
          if (!users && !setting.anywhere()) {
            throw new UsageException(
                where + ": " + name + " can be set in " + userFile + " only, not by a project");
          }
          put(setting, value, where);
        });
  }

  private static Setting find(String name) {
    for (Setting setting : Setting.ALL) {
      if (setting.name().equals(name)) {
        return setting;
      }
    }
    return null;
  }

  private void put(Setting setting, String value, String origin) {
    String fault = setting.fault(value);
    if (!fault.isEmpty()) {
      throw new UsageException(
          origin + ": " + setting.name() + " is \"" + value + "\"; it takes " + fault);
    }
    Value before = values.get(setting.name());
    if (setting.name().equals(HIDE) && before != null && before.value().equals("true")) {
      return;
    }
    values.put(setting.name(), new Value(value, origin));
  }

  /** What holds of a setting, or null. */
  public Value of(String name) {
    return values.get(name);
  }

  /** Where the user's file is looked for. */
  public Path userFile() {
    return userFile;
  }

  /** The project's file, or null where there is none. */
  public Path projectFile() {
    return projectFile;
  }

  /** The key by which hidden contents are hashed: the user's own, made when it is first needed. */
  public static byte[] hidingKey(Map<String, String> environment) throws IOException {
    return HidingKey.of(userFolder(environment));
  }
}
