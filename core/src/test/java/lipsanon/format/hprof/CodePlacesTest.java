package lipsanon.format.hprof;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.ArrayList;
import java.util.List;
import org.junit.jupiter.api.Test;

/** Whose classes are, by where they were loaded from, for the ways in which programs are packed. */
class CodePlacesTest {
  private final List<String> names = new ArrayList<>();
  private final List<String> locations = new ArrayList<>();

  private CodePlacesTest with(String name, String location) {
    names.add(name);
    locations.add(location);
    return this;
  }

  /** The classes that are the program's own. */
  private List<String> own(String main) {
    boolean[] foreign =
        new CodePlaces(
                names.toArray(new String[0]), locations.toArray(new String[0]), names.indexOf(main))
            .foreign();
    List<String> own = new ArrayList<>();
    for (int t = 0; t < foreign.length; t++) {
      if (!foreign[t]) {
        own.add(names.get(t));
      }
    }
    return own;
  }

  @Test
  void ofAProgramWithArchivesBesideItTheMainClassDecides() {
    with("com.portmerrow.Office", "/srv/office.jar")
        .with("com.portmerrow.tides.Board", "/srv/lib/tides.jar")
        .with("org.postal.Mail", "/srv/lib/mail.jar");
    assertThat(own("com.portmerrow.Office"))
        .containsExactly("com.portmerrow.Office", "com.portmerrow.tides.Board");
  }

  @Test
  void theLauncherOfAPackedProgramIsNotItsOwn() {
    String nested = "nested:/srv/office.jar/!BOOT-INF/";
    with("org.springframework.boot.loader.launch.JarLauncher", "/srv/office.jar")
        .with("org.springframework.boot.SpringApplication", nested + "lib/boot.jar!/")
        .with("com.portmerrow.Office", nested + "classes/!/")
        .with("com.portmerrow.tides.Board", nested + "lib/tides.jar!/")
        .with("com.portmerrow.Office$$Lambda", "")
        .with("org.springframework.boot.SpringApplication$$Lambda", "")
        .with("com.portmerrow.Office[]", null);
    assertThat(own("org.springframework.boot.loader.launch.JarLauncher"))
        .containsExactly(
            "com.portmerrow.Office",
            "com.portmerrow.tides.Board",
            "com.portmerrow.Office$$Lambda",
            "com.portmerrow.Office[]");
  }

  @Test
  void norWhereItIsUnpacked() {
    with("org.springframework.boot.loader.JarLauncher", "/srv/office/")
        .with("org.springframework.boot.SpringApplication", "/srv/office/BOOT-INF/lib/boot.jar")
        .with("com.portmerrow.Office", "/srv/office/BOOT-INF/classes/");
    assertThat(own("org.springframework.boot.loader.JarLauncher"))
        .containsExactly("com.portmerrow.Office");
  }

  @Test
  void aServerIsNotWhatItServes() {
    with("org.apache.catalina.startup.Bootstrap", "/srv/bin/bootstrap.jar")
        .with("org.apache.catalina.core.StandardHost", "/srv/lib/catalina.jar")
        .with("com.portmerrow.Desk", "/srv/webapps/office/WEB-INF/classes/")
        .with("com.portmerrow.tides.Board", "/srv/webapps/office/WEB-INF/lib/tides.jar")
        .with("org.apache.commons.pool2.Pool", "/srv/webapps/office/WEB-INF/lib/pool.jar");
    assertThat(own("org.apache.catalina.startup.Bootstrap"))
        .containsExactly("com.portmerrow.Desk", "com.portmerrow.tides.Board");
  }

  @Test
  void aServerWithoutAMainClassThatIsKnownIsNoneEither() {
    with("org.apache.catalina.core.StandardHost", "/srv/lib/catalina.jar")
        .with("com.portmerrow.Desk", "/content/office.war/WEB-INF/classes/");
    assertThat(own("")).containsExactly("com.portmerrow.Desk");
  }

  @Test
  void aLauncherMayHaveTheProgramsArchivesInAFolderOfTheirOwn() {
    with("io.quarkus.bootstrap.runner.QuarkusEntryPoint", "/srv/lib/boot/runner.jar")
        .with("io.quarkus.arc.impl.LazyValue", "/srv/lib/main/arc.jar")
        .with("com.portmerrow.Desk", "/srv/app/office-1.0.jar")
        .with("com.portmerrow.Desk_Bean", "/srv/quarkus/generated-bytecode.jar")
        .with("com.portmerrow.tides.Board", "/srv/lib/main/tides.jar");
    assertThat(own("io.quarkus.bootstrap.runner.QuarkusEntryPoint"))
        .containsExactly(
            "com.portmerrow.Desk", "com.portmerrow.Desk_Bean", "com.portmerrow.tides.Board");
  }

  @Test
  void testsAreTheirOwnProgram() {
    with("org.apache.maven.surefire.booter.ForkedBooter", "/m2/surefire-booter.jar")
        .with("com.portmerrow.OfficeTest", "/srv/office/target/test-classes/")
        .with("org.apache.commons.Text", "/m2/text.jar");
    assertThat(own("org.apache.maven.surefire.booter.ForkedBooter"))
        .containsExactly("com.portmerrow.OfficeTest");
  }

  @Test
  void packagesThatManyShareAreToldApartFurtherDown() {
    with("io.github.merrow.Office", "/srv/office.jar")
        .with("io.github.merrow.tides.Board", "/srv/lib/tides.jar")
        .with("io.github.others.Breaker", "/srv/lib/breaker.jar");
    assertThat(own("io.github.merrow.Office"))
        .containsExactly("io.github.merrow.Office", "io.github.merrow.tides.Board");
  }

  @Test
  void whereNothingIsKnownItIsWhatIsOfNoLibraryThatEverybodyHas() {
    with("play.core.server.ProdServerStart", "/srv/lib/server.jar")
        .with("com.github.benmanes.caffeine.cache.PSMS", "/srv/lib/cache.jar")
        .with("org.apache.commons.Text[]", null)
        .with("controllers.Desk", "/srv/lib/office.jar");
    assertThat(own("play.core.server.ProdServerStart")).containsExactly("controllers.Desk");
  }

  @Test
  void whereThatIsNothingNoDifferenceIsMade() {
    with("org.jboss.modules.Main", "/srv/modules.jar")
        .with("org.wildfly.Server", "/srv/lib/server.jar");
    assertThat(own("org.jboss.modules.Main"))
        .containsExactly("org.jboss.modules.Main", "org.wildfly.Server");
  }
}
