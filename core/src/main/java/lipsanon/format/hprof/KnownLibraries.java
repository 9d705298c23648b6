package lipsanon.format.hprof;

import java.util.Set;

/**
 * Packages of libraries that very many programs bring along, by their first parts. Only for
 * programs of which nothing tells what is their own: a server or a launcher started them, and all
 * they consist of are archives in one folder.
 */
final class KnownLibraries {
  /** One part. */
  private static final Set<String> ROOTS =
      Set.of(
          "akka",
          "antlr",
          "groovyjarjarantlr4",
          "jakarta",
          "kotlin",
          "kotlinx",
          "liquibase",
          "okhttp3",
          "okio",
          "play",
          "reactor",
          "scala");

  /** Two parts. */
  private static final Set<String> STEMS =
      Set.of(
          "ch.qos",
          "com.arjuna",
          "com.codahale",
          "com.fasterxml",
          "com.google",
          "com.hazelcast",
          "com.microsoft",
          "com.mongodb",
          "com.mysql",
          "com.squareup",
          "com.typesafe",
          "com.zaxxer",
          "io.agroal",
          "io.grpc",
          "io.lettuce",
          "io.micrometer",
          "io.netty",
          "io.opentelemetry",
          "io.prometheus",
          "io.quarkus",
          "io.reactivex",
          "io.smallrye",
          "io.undertow",
          "io.vertx",
          "net.bytebuddy",
          "oracle.jdbc",
          "org.antlr",
          "org.apache",
          "org.bouncycastle",
          "org.codehaus",
          "org.eclipse",
          "org.ehcache",
          "org.flywaydb",
          "org.glassfish",
          "org.h2",
          "org.hibernate",
          "org.infinispan",
          "org.jboss",
          "org.jetbrains",
          "org.jgroups",
          "org.joda",
          "org.junit",
          "org.mariadb",
          "org.mockito",
          "org.objectweb",
          "org.postgresql",
          "org.quartz",
          "org.reactivestreams",
          "org.slf4j",
          "org.springframework",
          "org.wildfly",
          "org.xnio",
          "org.yaml");

  /** Three parts, where many share two. */
  private static final Set<String> OF_MANY = Set.of("com.github.benmanes");

  private KnownLibraries() {}

  /** Whether a class is of one of them. */
  static boolean has(String type) {
    int first = type.indexOf('.');
    int second = first < 0 ? -1 : type.indexOf('.', first + 1);
    int third = second < 0 ? -1 : type.indexOf('.', second + 1);
    return first > 0 && ROOTS.contains(type.substring(0, first))
        || second > 0 && STEMS.contains(type.substring(0, second))
        || third > 0 && OF_MANY.contains(type.substring(0, third));
  }
}
